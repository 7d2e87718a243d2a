export { LogDialog } from './LogDialog'

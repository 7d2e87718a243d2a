export { BuildFiles } from './BuildFiles'

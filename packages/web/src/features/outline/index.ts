export { OutlinePane } from './OutlinePane'

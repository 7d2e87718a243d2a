export { ImportPane } from './ImportPane'

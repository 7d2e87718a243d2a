export { NewProjectPane } from './NewProjectPane'
export { Projects } from './Projects'

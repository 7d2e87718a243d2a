export { FindByBuilding } from './FindByBuilding'

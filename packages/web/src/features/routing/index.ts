export { RoutingPane } from './RoutingPane'

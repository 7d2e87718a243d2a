export { CalendarPane } from './CalendarPane'

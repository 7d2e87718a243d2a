export { SettingsPane } from './SettingsPane'

export { HistoryList } from './HistoryList'
export { Redline } from './Redline'
export { historyText } from './history-text'

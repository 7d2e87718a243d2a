export { HistoryList } from './HistoryList'
export { Redline } from './lazy-redline'
export { historyText } from './history-text'

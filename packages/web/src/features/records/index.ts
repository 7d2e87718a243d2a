export { FoundThings, useFound } from './FoundThings'

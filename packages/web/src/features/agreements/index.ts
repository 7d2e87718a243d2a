export { AgreementPane } from './AgreementPane'
export { Agreements } from './Agreements'
export { AskedHere } from './AskedHere'

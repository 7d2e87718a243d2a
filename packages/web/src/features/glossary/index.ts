export { Glossary } from './Glossary'
export { TermsHere } from './TermsHere'

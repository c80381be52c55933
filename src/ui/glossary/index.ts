export { Glossary, Term } from './term'
export { TERMS, type TermKey } from './terms'

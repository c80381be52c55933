export { Field, FormProblem } from './field'
export { type Answer, useEntry } from './use-entry'

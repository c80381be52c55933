export { Field, FormProblem } from './field'
export { type Answer, useAdding, useEntry } from './use-entry'

export { Field, FormProblem, FormSubmit } from './field'
export { type Answer, useAdding, useEntry } from './use-entry'

export { Field, FormProblem, FormSubmit } from './field'
export { type Answer, answered, useAdding, useEntry } from './use-entry'

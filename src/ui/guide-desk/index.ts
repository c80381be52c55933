export { PublishForm, WithdrawForm } from './publish'
export { ValueWords } from './value-words'
export { type Saved, type WordsByPlace, WordsDesk, WordsField } from './words'

export { ByEyeForm } from './by-eye'
export { PublishForm, ReviewForm, WithdrawForm } from './publish'
export { ValueWords } from './value-words'
export { type Saved, type WordsByPlace, WordsDesk, WordsField } from './words'

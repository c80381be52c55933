export { CorrectionForm } from './correction-form'

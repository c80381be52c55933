export { PolicyDesk } from './policy-desk'

export { CASE_RULES, type Mend } from './case-rules'
export type { CheckedCase } from './published-values'
export { checkGuide, type DeskFacts, GUIDE_RULES, type GuideFinding } from './rules'

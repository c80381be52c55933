export { createMemo, type Memo } from './memo'

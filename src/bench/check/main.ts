/** `npm run bench:check -- URL [--hands-off | --reset]`: tells the author of a bench what is wrong with it. */
import { checkBench, type Finding } from './check'

const [url, ...rest] = process.argv.slice(2)
if (
  !url ||
  !URL.canParse(url) ||
  rest.length > 1 ||
  rest.some((r) => r !== '--hands-off' && r !== '--reset')
) {
  console.error('Usage: npm run bench:check -- URL [--hands-off | --reset]')
  console.error(
    '--hands-off leaves the display’s settings alone; --reset tries resets as well, which forget what other modes keep.',
  )
  process.exit(2)
}
const MARK: Readonly<Record<Finding['verdict'], string>> = {
  kept: 'kept     ',
  broken: 'BROKEN   ',
  'not-tried': 'not tried',
}
let broken = 0
let kept = 0
for await (const { promise, verdict, detail } of checkBench(
  url,
  !rest.includes('--hands-off'),
  rest.includes('--reset'),
)) {
  if (verdict === 'broken') broken++
  if (verdict === 'kept') kept++
  console.log(`${MARK[verdict]}  ${promise}${detail ? `\n           ${detail}` : ''}`)
}
console.log(
  broken
    ? `\n${broken} of ${broken + kept} promises are broken. docs/bench-protocol.md says what each message holds.`
    : `\nAll ${kept} promises that were tried are kept.`,
)
process.exit(broken ? 1 : 0)

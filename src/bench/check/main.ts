/** `npm run bench:check -- URL [--hands-off]`: tells the author of a bench what is wrong with it. */
import { checkBench, type Finding } from './check'

const [url, ...rest] = process.argv.slice(2)
if (!url || !URL.canParse(url) || rest.some((r) => r !== '--hands-off')) {
  console.error('Usage: npm run bench:check -- URL [--hands-off]')
  console.error('--hands-off leaves the display’s settings alone.')
  process.exit(2)
}
const MARK: Readonly<Record<Finding['verdict'], string>> = {
  kept: 'kept     ',
  broken: 'BROKEN   ',
  'not-tried': 'not tried',
}
let broken = 0
let kept = 0
for await (const { promise, verdict, detail } of checkBench(url, rest.length === 0)) {
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

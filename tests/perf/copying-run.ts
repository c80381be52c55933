/** What copying does to 10,000 units of a display, told in milliseconds; bundled as the application's own programs are before it is run. */

import { drive } from '#bench/unattended'
import { REFERENCE_POLICY } from '#core/judge'
import { copyingOf } from '#core/plan'
import { drawDisplay, populationBench } from '#tests/population'

const display = drawDisplay(3)
const { port } = populationBench(display, 3)
const outcome = await drive(
  port,
  { viewingCase: 'sdr-dark', policy: REFERENCE_POLICY },
  { pause: async () => undefined },
)
if (!('verified' in outcome) || !outcome.route) throw new Error(outcome.stopped)
const times: number[] = []
let blocks = 0
for (let i = 0; i < 5; i++) {
  const begin = performance.now()
  blocks = copyingOf(outcome.route).length
  times.push(performance.now() - begin)
}
console.log(JSON.stringify({ blocks, ms: times.sort((a, b) => a - b)[2] }))

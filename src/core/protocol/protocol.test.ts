import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { ControlSheet } from '#core/display'
import {
  BenchDescription,
  BenchError,
  DisplayState,
  MeterAnswer,
  SetControl,
  ShowPatch,
  Simulation,
} from '#core/protocol'

const page = readFileSync('docs/bench-protocol.md', 'utf8')

/** The example that follows a heading of the page. */
const example = (heading: string): unknown => {
  const at = page.indexOf(heading)
  if (at < 0) throw new Error(`The page has no heading ${heading}`)
  const text = /```json\n([\s\S]*?)```/.exec(page.slice(at))?.[1]
  return JSON.parse(text ?? '')
}

describe('the examples of the protocol page', () => {
  it.each([
    ['## Errors', BenchError],
    ['## `GET /v1`', BenchDescription],
    ['## `GET /v1/display/sheet`', ControlSheet],
    ['## `GET /v1/display/state`', DisplayState],
    ['## `PUT /v1/display/controls/{key}`', SetControl],
    ['## `PUT /v1/pattern`', ShowPatch],
    ['## `POST /v1/meter/readings`', MeterAnswer],
    ['## Simulated devices', Simulation],
  ])('%s keeps to its schema', (heading, schema) => {
    const given = example(heading)
    expect(schema.parse(given)).toEqual(given)
  })
  it('name every role, memory and error code that there is', async () => {
    const { Memory, Role } = await import('#core/display')
    const { ErrorCode } = await import('#core/protocol')
    for (const word of [...Role.options, ...Memory.options, ...ErrorCode.options])
      expect(page).toContain(`\`${word}\``)
  })
})

describe('a meter’s answer', () => {
  it('lets nonsense through, so that it can be kept and named', () => {
    expect(MeterAnswer.parse({ xyz: 'broken', seconds: -1, flags: ['?'] })).toEqual({
      xyz: 'broken',
      seconds: 0,
      clock: 0,
      flags: [],
    })
  })
})

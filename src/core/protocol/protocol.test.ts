import { describe, expect, it } from 'vitest'
import type { z } from 'zod'
import { ControlSheet, Hue, Memory, Role } from '#core/display'
import { Layout } from '#core/measure'
import {
  BenchDescription,
  BenchError,
  DarkCalibrated,
  DisplayState,
  ErrorCode,
  FAULT_MEANING,
  Flashes,
  FlashTimes,
  MeterAnswer,
  PanelKind,
  ReadMeter,
  ResetDisplay,
  SetControl,
  Shown,
  ShowPattern,
  SignalPage,
  Simulation,
  TrueLight,
  Wait,
  Waited,
} from '#core/protocol'
import { Chroma, Encoding, Range, SignalPrimaries, Transfer } from '#core/signal'
import { documentOf } from '#tests/documents'

const page = documentOf('bench-protocol.md')

/** The examples that follow a heading of the page, up to the next heading. */
const examples = (heading: string): unknown[] => {
  const at = page.indexOf(`\n${heading}`)
  if (at < 0) throw new Error(`The page has no heading ${heading}`)
  const section = page.slice(at + 1).split('\n## ')[0]!
  return [...section.matchAll(/```json\n([\s\S]*?)```/g)].map((m) => JSON.parse(m[1]!))
}

const PROMISED: ReadonlyArray<readonly [string, readonly z.ZodType[]]> = [
  ['## Errors', [BenchError]],
  ['## `GET /v2`', [BenchDescription]],
  ['## `POST /v2/wait`', [Wait, Waited]],
  ['## `GET /v2/display/sheet`', [ControlSheet]],
  ['## `GET /v2/display/state`', [DisplayState]],
  ['## `PUT /v2/display/controls/{key}`', [SetControl]],
  ['## `POST /v2/display/reset`', [ResetDisplay]],
  ['## `GET /v2/display/signal`', [SignalPage]],
  ['## `PUT /v2/pattern`', [ShowPattern, Shown]],
  ['## `POST /v2/meter/readings`', [ReadMeter, MeterAnswer]],
  ['## `POST /v2/meter/dark-calibration`', [DarkCalibrated]],
  ['## `POST /v2/probe/flashes`', [Flashes, FlashTimes]],
  ['## Simulated devices', [Simulation, TrueLight]],
]

describe('the protocol page', () => {
  it.each(PROMISED)('%s: each example keeps to its schema, with no field left over', (heading, schemas) => {
    const given = examples(heading)
    expect(given).toHaveLength(schemas.length)
    schemas.forEach((schema, i) => {
      expect(schema.parse(given[i])).toEqual(given[i])
    })
  })
  it('shows every message: no example of another heading is left untested', () => {
    const headings = page.split('\n').filter((l) => l.startsWith('## '))
    const tested = headings.filter((h) => PROMISED.some(([p]) => h.startsWith(p)))
    const untested = headings.filter((h) => !tested.includes(h))
    expect(untested.flatMap(examples)).toEqual([])
  })
  it('names every word that a message may hold', () => {
    const words = [
      Role,
      Memory,
      Hue,
      ErrorCode,
      PanelKind,
      Layout,
      Encoding,
      Transfer,
      Range,
      SignalPrimaries,
    ]
    for (const word of words.flatMap((w): readonly string[] => w.options))
      expect(page).toContain(`\`${word}\``)
    for (const word of Chroma.options) expect(page).toContain(`"${word}"`)
    for (const fault of Object.keys(FAULT_MEANING)) expect(page).toContain(`\`${fault}\``)
  })
})

describe('messages', () => {
  it('let a meter’s nonsense through, so that it can be kept and named', () => {
    expect(MeterAnswer.parse({ xyz: 'broken', seconds: -1, flags: ['?'], samples: 0 })).toEqual({
      xyz: 'broken',
      samples: 1,
      seconds: 0,
      clock: 0,
      flags: [],
    })
  })
  it('count every flag that is known, whatever stands beside it', () => {
    const flags = (sent: unknown) => MeterAnswer.parse({ xyz: [1, 1, 1], flags: sent }).flags
    expect(flags(['lamp-cold', 'saturated', 7, null])).toEqual(['saturated'])
    expect(flags(['unstable', { a: 1 }, 'too-dark', 'unstable'])).toEqual(['too-dark', 'unstable'])
    expect(flags('Saturated')).toEqual(['saturated'])
    for (const none of [undefined, null, 'fine', {}, 3]) expect(flags(none)).toEqual([])
  })
  it('take numbers that were sent as text', () => {
    expect(MeterAnswer.parse({ xyz: [1, 1, 1], samples: '4', seconds: '2.5', clock: ' 9 ' })).toMatchObject({
      samples: 4,
      seconds: 2.5,
      clock: 9,
    })
    for (const samples of ['', 'four', '1.5', '-2', [], {}])
      expect(MeterAnswer.parse({ xyz: [1, 1, 1], samples }).samples).toBe(1)
  })
  it('of a source with a layout that this version does not know leave it out', () => {
    const [bench] = examples('## `GET /v2`') as [BenchDescription]
    const newer = { ...bench, pattern: { ...bench.pattern!, layouts: ['spiral', 'window', 'ramp'] } }
    expect(BenchDescription.parse(newer).pattern!.layouts).toEqual(['window', 'ramp'])
  })
  it('refuse codes that the bit depth does not have', () => {
    const [good] = examples('## `PUT /v2/pattern`') as [ShowPattern]
    const eight = { ...good, signal: { ...good.signal, bitDepth: 8 } }
    expect(ShowPattern.safeParse(eight).error?.issues[0]?.message).toMatch(/end at 255/)
  })
  it('refuse a sheet whose needs hang on nothing', () => {
    const [sheet] = examples('## `GET /v2/display/sheet`') as [ControlSheet]
    const broken = {
      ...sheet,
      controls: sheet.controls.map((c) => ({ ...c, needs: [{ control: 'ghost', is: ['on'] }] })),
    }
    expect(ControlSheet.safeParse(broken).error?.issues[0]?.message).toMatch(/ghost/)
  })
})

import { describe, expect, it } from 'vitest'
import { MAREN } from '#core/simulation'
import * as check from './check/say'
import * as games from './games/say'
import * as light from './light/say'
import * as screen from './screen/say'
import * as white from './white/say'

const ROOMS = { check, games, light, screen, white }
const control = MAREN.sheet.controls.find((c) => c.kind === 'number' && c.level !== undefined)!

describe('limits', () => {
  it('end as sentences do, and name the control that they are about', () => {
    const facts = {
      ...{ control, controls: [control, control, control, control, control], why: 'It is locked.' },
      ...{
        target: 900,
        luminance: 412.4,
        top: 50,
        peak: 812,
        value: 12,
        aim: 'gamma of 2.4',
        exponent: 2.31,
      },
      ...{
        wanted: 'clips',
        does: 'rolls off',
        lost: 'Red',
        below: '4 %',
        conflict: 'Another case keeps it.',
      },
      ...{ titles: ['Picture size', 'Edges'], wrong: 'Edges are doubled.', label: '10 %', change: 0.042 },
      ...{ slowest: 48, fastest: 120, read: 7, of: 9, probe: true },
    }
    for (const [room, says] of Object.entries(ROOMS))
      for (const [name, of] of Object.entries(says)) {
        const limit = typeof of === 'function' ? (of as (f: typeof facts) => { sentence: string })(facts) : of
        expect(limit.sentence, `${room}: ${name}`).toMatch(/^[A-Z“0-9].*\.$/)
        expect(limit.sentence, `${room}: ${name}`).not.toMatch(/undefined|NaN|\[object|\.\./)
      }
    expect(light.luminanceOutOfReach(facts).sentence).toMatch(/900 cd\/m².*412 cd\/m²/)
    expect(check.lockedByDynamic(facts).sentence).toMatch(/and 1 more/)
    expect(screen.flickers(facts).sentence).toMatch(/by 4 % between 48 and 120 Hz/)
  })
})

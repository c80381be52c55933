import { describe, expect, it } from 'vitest'
import { ROLES, Role } from '#core/display'
import { ViewingCase } from '#core/judge'
import { MAREN } from '#core/simulation'
import { RESTS_ON, STEP_KEYS, STEP_TITLE, stepsOf } from './registry'

const of = (viewingCase: ViewingCase) =>
  stepsOf({ viewingCase, sheet: MAREN.sheet, panelKind: 'lcd-full-array' })
const keysOf = (viewingCase: ViewingCase) => of(viewingCase).map((s) => s.key)

describe('the registry of steps', () => {
  it('gives every viewing case a route that is prepared, verified and ends in its guide', () => {
    for (const viewingCase of ViewingCase.options) {
      const keys = keysOf(viewingCase)
      expect(keys[0], viewingCase).toBe('prepare')
      expect(keys.at(-1), viewingCase).toBe('guide')
      expect(keys.indexOf('verify'), viewingCase).toBeGreaterThan(keys.indexOf('out-of-box'))
    }
  })
  it('deals with every role at a step that there is', () => {
    for (const role of Role.options) expect(STEP_KEYS, role).toContain(ROLES[role].step)
  })
  it('gives each key one title and one list of roles, however often it stands there', () => {
    for (const viewingCase of ViewingCase.options)
      for (const { key, title, restsOn } of of(viewingCase)) {
        expect(title).toBe(STEP_TITLE[key])
        expect(restsOn).toEqual(RESTS_ON[key])
      }
    expect(new Set(Object.values(STEP_TITLE)).size).toBe(STEP_KEYS.length)
  })
  it('brings what cases ask for beside it: delay for games, evenness for a desktop, tone mapping for HDR', () => {
    const having = (key: string) => ViewingCase.options.filter((c) => (keysOf(c) as string[]).includes(key))
    expect(having('latency')).toEqual(['sdr-game', 'hdr-game'])
    expect(having('uniformity')).toEqual(['desktop'])
    expect(having('tone-mapping')).toEqual(['hdr-film', 'hdr-film-dynamic', 'hdr-game'])
    expect(having('tone')).toEqual(['sdr-dark', 'sdr-bright', 'sdr-game', 'desktop'])
  })
  it('settles luminance and tone mapping before HDR is read out of the box, and in SDR after it', () => {
    const [sdr, hdr] = [keysOf('sdr-dark'), keysOf('hdr-film')]
    expect(hdr.indexOf('tone-mapping')).toBeLessThan(hdr.indexOf('out-of-box'))
    expect(sdr.indexOf('luminance')).toBeGreaterThan(sdr.indexOf('out-of-box'))
  })
})

import { readFile } from 'node:fs/promises'
import Papa from 'papaparse'
import { beforeAll, describe, expect, it } from 'vitest'
import { ROLE_TERM } from '#core/display'
import {
  type CaseDocument,
  composeGuideDocument,
  type GuideDocument,
  groupsToSet,
  sayCopying,
} from '#core/guide/document'
import { chaptersVtt, compareGuides, cueSheet, followSteps } from '#core/guide/formats'
import { copyingOf, type Route } from '#core/plan'
import { errorsUnder, weightedMean } from '#core/solve'
import { drawCard, drawPdf } from '#paper'
import { withTemporaryFile } from '#server/base'
import { guideCsv } from '#server/files'
import { guideOf } from '#tests/guide-of'

let guide: GuideDocument
let dark: CaseDocument
let other: GuideDocument
let route: Route
beforeAll(async () => {
  const [a, b, c] = [await guideOf(3, 'sdr-dark'), await guideOf(3, 'hdr-film'), await guideOf(5, 'sdr-dark')]
  route = a.route
  guide = composeGuideDocument([[a.document], [b.document]])!
  dark = a.document
  other = c.guide
})

describe('what copying colour management does to other units', () => {
  it('is on a like unit what the model expects of this one, and the less certain the more primaries differ', () => {
    const of = (primaries: number) =>
      copyingOf(route, { units: 1_000, spread: { channels: 0, exponents: 0, levels: 0, primaries } }).find(
        (c) => c.block === 'colour',
      )!
    const [alike, near, far] = [of(0), of(0.0005), of(0.012)]
    // What the model of this unit expects of its values, and without them.
    const { model, target } = route.colour!
    const judged = model!.patches.filter((p) => !p.key.startsWith('muted'))
    const expected = (clicks: readonly number[]) =>
      weightedMean(
        judged,
        errorsUnder(model!, target!, clicks).filter((_, i) => judged.includes(model!.patches[i]!)),
      )
    expect(alike.copied).toBeCloseTo(expected(model!.clicks.map(() => 0)), 1)
    expect(alike.alone).toBeCloseTo(expected(model!.clicks.map((n) => -n)), 1)
    expect(alike.better + alike.worse).toBe(Math.abs(alike.copied - alike.alone) > 0.05 ? 1 : 0)
    expect(near.copied).toBeGreaterThan(alike.copied)
    expect(far.copied).toBeGreaterThan(near.copied)
    expect(far.alone).toBeGreaterThan(near.alone)
    expect(Math.abs(far.better - far.worse)).toBeLessThan(Math.abs(near.better - near.worse))
    expect(sayCopying(near)).toMatch(/^Colour management, copied to 1,000 simulated units: .*colours ΔE00/)
  })
})

describe('a cue sheet', () => {
  it('walks through what a reader sets, in that order, and through nothing that fits one unit alone', () => {
    const { cues } = cueSheet(guide, dark)
    const steps = followSteps(guide, dark)
    const shown = cues.map((c) => c.show).join('\n')
    for (const step of steps) expect(shown).toContain(step.set)
    const at = steps
      .filter((s) => s.path.length < 3)
      .map((s) => cues.findIndex((c) => c.show.endsWith(`${s.label}: ${s.set}`)))
    expect(at).toEqual(at.toSorted((a, b) => a - b))
    const own = dark.values.filter((v) => v.changed && v.transfer === 'this-unit-only')
    for (const v of own) expect(shown).not.toContain([...v.path, `${v.label}: ${v.shown}`].join(' › '))
    expect(cues.map((c) => c.say).join(' ')).toContain(`${own.length} more values`)
  })
  it('gives each line the time that its words take, and a pause to read', () => {
    for (const pace of [100, 145, 200]) {
      const { cues, seconds } = cueSheet(guide, dark, pace)
      let at = 0
      for (const cue of cues) {
        expect(cue.at).toBeCloseTo(at, 6)
        expect(cue.seconds - cue.pause).toBeCloseTo((60 * cue.say.split(/\s+/).length) / pace, 0)
        expect(cue.pause).toBeGreaterThanOrEqual(1.5)
        at += cue.seconds
      }
      expect(seconds).toBeCloseTo(at, 1)
    }
    expect(cueSheet(guide, dark, 100).seconds).toBeGreaterThan(cueSheet(guide, dark, 200).seconds)
  })
  it('says signs and units as words', () => {
    const said = cueSheet(guide, dark)
      .cues.map((c) => c.say)
      .join(' ')
    expect(said).not.toMatch(/[−+]\d|cd\/m²|ΔE|%|›/)
    expect(said).toMatch(/minus \d|plus \d/)
  })
  it('has chapters as WebVTT, one after the other to the end, whatever a menu is called', () => {
    const odd: CaseDocument = {
      ...dark,
      values: dark.values.map((v) => ({ ...v, path: ['A --> B & <i>\nC', ...v.path.slice(1)] })),
    }
    for (const of of [dark, odd]) {
      const sheet = cueSheet(guide, of)
      const vtt = chaptersVtt(sheet)
      expect(vtt).toMatch(/^WEBVTT\n\n1\n00:00:00\.000 --> /)
      const blocks = vtt.trim().split('\n\n').slice(1)
      const times = blocks.map((block) => {
        const [number, span, name, ...more] = block.split('\n')
        expect([Number(number), more.length, name!.includes('-->')]).toEqual([expect.any(Number), 0, false])
        return span!.split(' --> ').map((t) => {
          const [h, m, s] = t.split(':').map(Number)
          return 3600 * h! + 60 * m! + s!
        })
      })
      for (const [i, [from, to]] of times.entries()) {
        expect(to).toBeGreaterThan(from!)
        expect(to).toBeCloseTo(times[i + 1]?.[0] ?? sheet.seconds, 2)
      }
      // Levels and colours are many pages, and one chapter each.
      expect(blocks.length).toBeLessThan(14)
    }
  })
})

describe('two guides side by side', () => {
  it('of one guide differ in nothing', () => {
    const pairs = compareGuides(guide, guide)
    expect(pairs.map((p) => p.key)).toEqual(['sdr-dark', 'hdr-film'])
    for (const p of pairs) {
      for (const f of p.figures) expect(f.a).toBe(f.b)
      expect(p.settings.filter((s) => s.differs || !s.a || !s.b)).toEqual([])
    }
  })
  it('of one model are held against each other control by control, in menu order', () => {
    const changed = {
      ...guide,
      cases: [
        {
          ...dark,
          values: dark.values.map((v) => (v.role === 'peak-luminance' ? { ...v, shown: '99' } : v)),
        },
      ],
    }
    const [sdr, hdr] = compareGuides(guide, changed)
    expect(sdr!.settings.filter((s) => s.differs)).toMatchObject([{ b: { shown: '99' } }])
    const order = dark.values.map((v) => [...v.path, v.label].join(' › '))
    const places = sdr!.settings.map((s) => order.indexOf(s.a!.path))
    expect(places).toEqual(places.toSorted((a, b) => a - b))
    expect(hdr).toMatchObject({ key: 'hdr-film', b: undefined })
    expect(hdr!.figures.every((f) => f.b === null)).toBe(true)
  })
  it('of two models are held against each other by what settings do, each in its own words', () => {
    const [pair] = compareGuides(guide, other)
    const light =
      pair!.settings.find((s) => s.a && s.b && s.term === 'luminance') ??
      pair!.settings.find((s) => s.a && s.b)!
    expect(light.a!.path).not.toBe('')
    const terms = pair!.settings.map((s) => s.term)
    for (const role of ['level-white', 'hue', 'saturation'] as const)
      expect(terms).not.toContain(ROLE_TERM[role])
    expect(pair!.figures.find((f) => f.name === 'White')).toMatchObject({
      a: expect.stringMatching(/^\d+ cd\/m²$/),
      b: expect.stringMatching(/^\d+ cd\/m²$/),
    })
  })
})

describe('a guide as files', () => {
  it('is a table that spreadsheets show as it is', () => {
    const hostile: GuideDocument = {
      ...guide,
      cases: [
        {
          ...dark,
          values: dark.values.map((v, i) =>
            i ? v : { ...v, label: '=HYPERLINK("x")', why: '+cmd|calc', shown: '+3' },
          ),
        },
      ],
    }
    const csv = guideCsv(hostile)
    const rows = Papa.parse<Record<string, string>>(csv, { header: true }).data
    expect(rows).toHaveLength(dark.values.length)
    expect(rows[0]).toMatchObject({ label: `'=HYPERLINK("x")`, why: `'+cmd|calc`, 'set to': '+3' })
    expect(rows.map((r) => r['set to']).slice(1)).toEqual(dark.values.slice(1).map((v) => v.shown))
  })
  it('is a PDF and a picture of the size that links show', async () => {
    const bytes = async (draw: (file: string) => Promise<void>) =>
      withTemporaryFile(async (file) => {
        await draw(file)
        return readFile(file)
      })
    const pdf = await bytes((file) =>
      drawPdf({ document: guide, revision: 3, publishedAt: '2026-11-29T10:00:00.000Z' }, file),
    )
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
    const pages = pdf.toString('latin1').match(/\/Type \/Page\b(?!s)/g)!.length
    expect(pages).toBeGreaterThan(1)
    expect(pages).toBeLessThan(6)
    const png = await bytes((file) => drawCard(guide, file))
    expect(png.subarray(1, 4).toString()).toBe('PNG')
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([1200, 630])
  })
  it('is printed with all values of pages that are labelled alike, changed or not', () => {
    const groups = groupsToSet(dark.values)
    const levels = groups.find((g) => g.pages && g.values.some((v) => v.role === 'level-white'))!
    const all = dark.values.filter((v) => v.role === 'level-white')
    expect(levels.values).toEqual(all)
    expect(levels.values.some((v) => !v.changed)).toBe(true)
    for (const g of groups)
      if (!g.pages) for (const v of g.values) expect(v.changed || v.role === 'picture-mode').toBe(true)
  })
})

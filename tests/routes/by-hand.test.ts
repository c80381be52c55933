import { describe, expect, it } from 'vitest'
import { controlOf } from '#core/display'
import { PATCHES, PQ_PEAK, patternOf } from '#core/measure'
import { endingOf, planRoute } from '#core/plan'
import { hdrSignal, SDR_SIGNAL } from '#core/signal'
import { HAND_PACE, occupiedBy } from '#core/steps'
import { caseByHand, type HandCase } from '#tests/case-by-hand'
import { drawDisplay, drawHdr, heldLight, mappingIn, populationBench } from '#tests/population'

const adjustmentsOf = ({ route }: HandCase, step: string) =>
  route.context.facts.adjustments.filter((m) => m.step === step)

describe('a case that is gone by hand', () => {
  const display = drawDisplay(3)
  const bench = populationBench(display, 3)
  let first: HandCase
  it('reads less than a bench would: a few memory colours stand for the others', async () => {
    first = await caseByHand(display, bench, 'sdr-dark', HAND_PACE)
    const read = new Set(first.route.context.facts.readings.map((r) => r.patch.key))
    const memoryColours = PATCHES.sdr.memoryColours.filter((p) => read.has(p.key))
    expect(memoryColours).toHaveLength(6)
    expect(first.route.after?.natural?.average).toBeLessThan(first.route.before!.natural!.average)
    expect(first.readings).toBeLessThan(190)
  })
  it('tries no gamma setting that others have told to be further away', () => {
    const { sheet } = display
    const tone = sheet.controls.find((c) => c.role === 'tone-curve')!
    const choices = tone.kind === 'choice' ? tone.choices.length : 0
    const tried = adjustmentsOf(first, 'tone').flatMap((m) => m.changes)
    expect(tried.every((c) => controlOf(sheet, c.control) === tone)).toBe(true)
    expect(tried.length).toBeLessThan(choices)
  })
  it('does not go to and fro between two clicks of luminance', () => {
    const steps = first.route.context.facts.adjustments.map((m) => m.step)
    const white = steps.indexOf('white')
    const rows = steps
      .slice(white)
      .join(' ')
      .match(/(luminance ?)+/g)
    for (const row of rows ?? []) expect(row.trim().split(' ').length).toBeLessThanOrEqual(2)
  })
  it('takes fewer readings for a second case, which knows modes, signal and how controls respond', async () => {
    const second = await caseByHand(display, bench, 'sdr-bright', HAND_PACE, {
      priors: first.priors,
      known: first.known,
      occupied: occupiedBy(display.sheet, first.state, 'sdr-dark', 'sdr'),
    })
    expect(second.readings).toBeLessThan(0.7 * first.readings)
    expect(second.byPurpose.survey).toBeUndefined()
  })
})

describe('hue, saturation and luminance of each colour, where nobody knows what they do', () => {
  it('are moved one kind at a time, and not left where colours measure worse than before', async () => {
    const display = drawDisplay(5)
    const bench = populationBench(display, 5)
    const first = await caseByHand(display, bench, 'sdr-dark', HAND_PACE)
    const second = await caseByHand(display, bench, 'sdr-bright', HAND_PACE, {
      priors: first.priors,
      known: first.known,
      occupied: occupiedBy(display.sheet, first.state, 'sdr-dark', 'sdr'),
    })
    const [, move] = adjustmentsOf(second, 'colour').filter((m, i) => i === 0 || m.changes.length)
    const kinds = new Set(move?.changes.map((c) => controlOf(display.sheet, c.control).role))
    expect(kinds.size).toBe(1)
    const { before, after } = second.route
    expect(after!.natural!.average).toBeLessThan(0.6 * before!.natural!.average)
  })
})

describe('colour management with eighteen controls', () => {
  it('is begun where all of them together would bring much, though the first move brings little', async () => {
    const display = drawDisplay(6)
    const { route } = await caseByHand(display, populationBench(display, 6), 'sdr-dark', HAND_PACE)
    expect(route.after!.six!.average).toBeLessThan(1.5)
    expect(route.steps.find((s) => s.key === 'colour')!.note).not.toMatch(/not adjusted/)
  })
  it('is left with one account of it where it would bring little, and adjusted where a person goes on all the same', async () => {
    const display = drawDisplay(9)
    const { route } = await caseByHand(display, populationBench(display, 9), 'sdr-dark', HAND_PACE)
    const account = route.colour!.account!
    expect(account).toMatch(
      /^Colour was not adjusted: the 18 colour controls might bring the average from ΔE00 0\.\d to 0\.\d, less than the gain of 0\.\d from which that is proposed\.$/,
    )
    expect(route.steps.find((s) => s.key === 'colour')!.note).toMatch(/not adjusted$/)
    const colour = { ...route, more: route.more.filter((m) => m.step === 'colour') }
    expect(endingOf(colour, {})).toMatchObject({ sentences: [account], goingOn: { step: 'colour' } })
    const { next, at } = planRoute({ ...route.context.facts, accepted: ['colour=more'] })
    expect([next.kind, at]).toEqual(['adjust', 'colour'])
  })
})

describe('HDR film by hand, with a source of the person’s own', () => {
  it('comes to its end, with the peak, the knee and white as a bench finds them', async () => {
    const drawn = drawDisplay(7)
    const withHdr = drawHdr(drawn)
    const display = { ...drawn, sheet: withHdr.sheet }
    const byHand = await caseByHand(display, populationBench(display, 7, withHdr), 'hdr-film', HAND_PACE)
    const { hdr } = byHand.route
    expect(hdr!.mapping).toBe(mappingIn(withHdr.hdr, byHand.state))
    expect(byHand.state.light).toBe(100)
    const peak = hdr!.peakByWindow.find((w) => w.window === 0.02)!
    const pattern = { ...patternOf(PQ_PEAK, hdrSignal(SDR_SIGNAL)), window: 0.02 }
    const held = heldLight(display, withHdr.hdr, { pattern, state: byHand.state })[1]
    expect(Math.abs(peak.sustained / held - 1)).toBeLessThan(0.02)
    expect(hdr!.knee! / withHdr.hdr.peak).toBeGreaterThan(0.9)
    expect(hdr!.white!.average).toBeLessThan(2)
    const { before, after } = byHand.route
    expect(after!.grey.whiteError.average).toBeLessThan(0.5 * before!.grey.whiteError.average)
    // A person reads no more than a bench does.
    expect(byHand.readings).toBeLessThan(230)
  })
})

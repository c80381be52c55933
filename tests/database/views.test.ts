import { beforeEach, describe, expect, it } from 'vitest'
import { SHELF } from '#bench/simulated'
import { controlByRole, controlOf, showValue, stateProblems } from '#core/display'
import { PATCHES } from '#core/measure'
import { PanelKind } from '#core/protocol'
import { stepsOf } from '#core/steps'
import { answerTo } from '#demo'
import { heavy } from '#server/background'
import { forgetBench } from '#server/base'
import { carryOut } from '#server/session'
import { startSession, takeIn } from '#server/unit'
import type { SessionView } from '#server/view'
import { type AtBench, atBench } from '#tests/at-bench'
import { UNIT_1, until } from '#tests/environment'

let bench: AtBench['bench']
let db: AtBench['db']
let ctx: AtBench['ctx']
const at = atBench({ runner: true })
beforeEach(() => {
  ;({ db, bench, ctx } = at)
})

const look = async (id: number) => (await heavy.sessionView(ctx, id))!
const idle = (id: number) => until(async () => !(await look(id)).run, 'the run has ended', 180_000)

/** Puts a display of the shelf on the stand, takes it in, and begins a case without a mode. */
const beginWith = async (serial: string): Promise<number> => {
  await bench.client.simulate({ faults: [], speed: 0, displayOnFor: 7200, onStand: serial })
  forgetBench()
  const { panelKind } = SHELF.find((s) => s.serial === serial)!.spec
  const unit = await takeIn(ctx, { ...UNIT_1, panelKind })
  if (!unit.ok) throw new Error(unit.error)
  const begun = await startSession(ctx, unit.value, { viewingCase: 'sdr-dark', baseMode: null })
  if (!begun.ok) throw new Error(begun.error)
  return begun.value
}

/** What holds of every view, whatever stands there and however far it is. */
const holds = async (id: number, view: SessionView): Promise<void> => {
  const session = (await db.sessions.findByPk(id))!
  const sheet = (await db.sheets.findByPk(session.sheetId))!.document
  const state = (await db.states.findByPk(session.stateId))!.values
  expect(view.revision).toBe(session.revision)
  // The steps of the case, in the order of the route, and the guide; none of another kind of picture.
  const unit = (await db.units.findByPk(session.unitId))!
  const model = (await db.models.findByPk((await db.variants.findByPk(unit.variantId))!.modelId))!
  const panelKind = PanelKind.parse(model.panelKind)
  const own = [...new Set(stepsOf({ viewingCase: session.viewingCase, sheet, panelKind }).map((s) => s.key))]
  expect(view.steps.map((s) => s.key)).toEqual(own)
  expect(own.at(-1)).toBe('guide')
  expect(own).not.toContain('eotf')
  expect(view.steps.filter((s) => s.status === 'now').length).toBeLessThanOrEqual(1)
  expect(view.readings).toBe(await countReadings(id))
  expect(view.log.filter((e) => e.kind === 'reading')).toHaveLength(Math.min(view.readings, 400))
  expect(stateProblems(sheet, state)).toEqual([])
  for (const c of view.controls) {
    expect(c.value).toEqual(state[c.key])
    expect(c.shown).toBe(showValue(controlOf(sheet, c.key), c.value))
  }
  const changes = 'changes' in view.next ? view.next.changes : []
  for (const change of changes) {
    const control = controlOf(sheet, change.control)
    expect(change.label).toBe(control.label)
    expect(change.path).toEqual(control.path)
    expect(change.from).not.toBe(change.to)
  }
  // What goes to the browser is what is here: nothing is lost on the way as text.
  expect(JSON.parse(JSON.stringify(view))).toEqual(view)
}
const countReadings = async (id: number): Promise<number> => {
  const runs = await db.runs.findAll({ where: { sessionId: id }, attributes: ['id'] })
  return db.readings.count({ where: { runId: runs.map((r) => r.id) } })
}

/** Goes on as proposed, every view looked at, until something holds. Out: kinds of what was next on the way. */
const goUntil = async (id: number, wanted: (view: SessionView) => boolean): Promise<string[]> => {
  const way: string[] = []
  for (let i = 0; i < 60; i++) {
    await idle(id)
    const view = await look(id)
    await holds(id, view)
    if (wanted(view)) return way
    way.push(view.next.kind)
    const answer = answerTo(view)
    expect(await carryOut(ctx, id, answer), JSON.stringify(answer)).toMatchObject({ ok: true })
  }
  throw new Error(`It never came to that: ${way.join(', ')}`)
}

describe('every display of the shelf', () => {
  it.each(SHELF.map((s) => [s.spec.sheet.model, s.serial] as const))(
    '%s: is surveyed, swept and moved, its views true at every step',
    async (_, serial) => {
      const id = await beginWith(serial)
      const way = await goUntil(id, (v) => v.next.kind === 'adjust' && v.findings.survey.length > 0)
      expect(way.slice(0, 2)).toEqual(['prepare', 'sweep'])
      expect(way).toContain('choose-mode')
      const view = await look(id)
      const chosen = view.findings.survey.find((m) => m.chosen)!
      expect(view.header.baseMode).toBe(`“${chosen.label}”`)
      expect(view.factory!.verdict.white.luminance).toBeGreaterThan(10)
      expect(view.factory!.sentences.length).toBeGreaterThan(0)
      // Colours as they came are known from the first sweep on.
      expect(view.findings.colour!.rows.length).toBeGreaterThan(20)
      for (const row of view.findings.colour!.rows) expect(row.factory).toBeGreaterThanOrEqual(0)
      const adjustments = view.findings.survey.length
      await goUntil(id, (v) => v.lastAdjustment !== null && v.next.kind !== 'unexpected-reading')
      const after = await look(id)
      expect(after.lastAdjustment).toMatchObject({ kind: 'proposed', canPutBack: true })
      expect(after.findings.survey).toHaveLength(adjustments)
    },
  )
})

describe('a factory sweep after a survey', () => {
  it('reads only what the survey did not, and is whole as evidence', async () => {
    const id = await beginWith(SHELF[0]!.serial)
    await goUntil(id, (v) => v.next.kind === 'sweep' && v.next.purpose === 'out-of-box')
    const { next } = await look(id)
    const patches = next.kind === 'sweep' ? next.patches : 0
    expect(patches).toBeGreaterThan(5)
    expect(patches).toBeLessThan(PATCHES.sdr.wholeCase.length)
    await goUntil(id, (v) => v.next.kind === 'adjust')
    const run = (await db.runs.findOne({ where: { purpose: 'out-of-box' } }))!
    const { shown } = await heavy.evidenceView(ctx, { runs: [run.id] })
    expect(shown).toHaveLength(1)
    const [series] = shown
    expect(series!.kind).toBe('out-of-box')
    expect(series!.verdict.grey!.levels.length).toBeGreaterThanOrEqual(10)
    expect(series!.verdict.colours.length).toBeGreaterThan(20)
    expect(series!.away.length).toBeGreaterThan(5)
    const survey = (await db.runs.findOne({ where: { purpose: 'survey' } }))!
    const modes = await heavy.evidenceView(ctx, { runs: [survey.id] })
    const mode = controlByRole(SHELF[0]!.spec.sheet, 'picture-mode')!
    const labels = mode.kind === 'choice' ? mode.choices.map((c) => c.label) : []
    expect(modes.shown.map((s) => s.label).sort()).toEqual([...labels].sort().slice(0, 6))
  })
})

describe('a reading', () => {
  it('opens with what it was read under, and so does one that went wrong', async () => {
    const id = await beginWith(SHELF[0]!.serial)
    await goUntil(id, (v) => v.next.kind === 'sweep' && v.next.purpose === 'feed-check')
    await bench.client.simulate({ faults: [{ kind: 'meter-negative', times: 1 }] })
    await goUntil(id, (v) => v.next.kind === 'survey')
    const rows = await db.readings.findAll({ order: ['id'] })
    const bad = rows.filter((r) => r.fault !== null)
    expect(bad).toHaveLength(1)
    for (const row of [bad[0]!, rows.at(-1)!]) {
      const view = (await heavy.readingView(ctx, id, row.id))!
      expect(view).toBeDefined()
      expect(JSON.stringify(view)).toContain(row.patch.label)
    }
    expect(await heavy.readingView(ctx, id, 999_999)).toBeUndefined()
    expect(await heavy.readingView(ctx, id + 1, rows[0]!.id)).toBeUndefined()
  })
})

import {
  type Control,
  type ControlValue,
  controlByRole,
  controlOf,
  factoryValue,
  MEASURED_AT_NEUTRAL,
  type Role,
  showValue,
} from '#core/display'
import { gamesAndDesktopOf } from '#core/guide/compose'
import { bt2390 } from '#core/hdr'
import { isMemoryColour, USUAL_WINDOW } from '#core/measure'
import { controlsByRole } from '#core/model'
import { boughtBy, type Route } from '#core/plan'
import { signalKind } from '#core/signal'
import {
  type AskedHdr,
  differsIn,
  type HdrFindings,
  priceOfMapping,
  type RouteFacts,
  STEP_TITLE,
  sayAskedHdr,
  sayHdr,
} from '#core/steps'
import type { Context } from '../base/context'
import type { SessionRecord } from '../session/record'
import type { ColourRow, FindingsView, HdrView, LevelRow, LevelsView } from './findings-views'
import { modeRowsOf } from './mode-rows'
import { eightBit } from './reading-log-view'

const percent = (level: number) => Math.round(level * 1000) / 10

/** What the steps found, each for its own panel. */
export const findingsView = (
  { db }: Context,
  record: SessionRecord,
  facts: RouteFacts,
  route: Route,
): FindingsView => {
  const sheet = record.sheet.document
  const byRole = controlsByRole(sheet)
  const label = (key: string) => controlOf(sheet, key).label
  return {
    survey: modeRowsOf(db, record, facts),
    levels: levelsView(facts, route, byRole),
    ...optionViews(facts, route, byRole),
    hdr: route.hdr ? hdrView(route.hdr, route.askedHdr) : null,
    play: gamesAndDesktopOf(route, facts.state) ?? null,
    byLevel: levelRows(facts, route),
    colour: colourView(route),
    watching: (route.processing?.watch ?? []).map(({ control, value, rule }) => ({
      label: control.label,
      path: control.path,
      shown: showValue(control, value),
      rule,
    })),
    measuring: measuringList(facts),
    visualChecks: visualChecksView(record, route),
    ...valueViews(facts, route),
    limits: route.limits.map((l) => l.sentence),
    preferences: route.preferences.map((p) => p.sentence),
    controlFaults: route.controlFaults.map((o) => o.sentence),
    refused: Object.entries(facts.refused).map(([control, why]) => ({ control, label: label(control), why })),
  }
}

type ByRole = ReturnType<typeof controlsByRole>

/** Values of a control as a panel shows them; null where there is no control, or nothing is known of any. */
const optionsOf = <Option, Shown>(
  control: Control | undefined,
  options: readonly Option[] | undefined,
  show: (option: Option) => Shown,
): { readonly control: string; readonly options: readonly Shown[] } | null =>
  control && options?.length ? { control: control.label, options: options.map(show) } : null

/** What the values of each choice measured. */
const optionViews = (
  { state, targets, signal }: RouteFacts,
  route: Route,
  { tone, preset, mapping, strengths, dynamic }: ByRole,
): Pick<FindingsView, 'tones' | 'presets' | 'mappings' | 'dimming' | 'dynamic'> => {
  const isSet = (control: Control | undefined, value: ControlValue) =>
    control !== undefined && state[control.key] === value
  /** For watching: the display may be set otherwise while it is measured. */
  const isChosen = (control: Control | undefined, value: ControlValue) =>
    route.derived.some((d) => d.control === control?.key && d.value === value)
  const strengthOf = (key: string) => strengths.find((c) => c.key === key)
  const dimmed = optionsOf(strengths[0], route.processing?.dimming, (d) => ({
    label: strengths.length > 1 ? `${strengthOf(d.control)?.label}: ${d.label}` : d.label,
    chosen: isChosen(strengthOf(d.control), d.value),
    measured: d.readingIds.length > 0,
    figures: [d.contrast, d.bar, d.halo, d.haloing ? 1 : 0, d.shade, d.peak ?? 0],
  }))
  return {
    tones: tone
      ? {
          control: tone.label,
          wanted: typeof targets.tone === 'number' ? targets.tone : null,
          options: route.tones.map((t) => ({
            label: t.label,
            chosen: isSet(tone, t.value),
            measured: t.measured,
            figures: [t.exponent, t.off],
          })),
        }
      : null,
    presets: optionsOf(preset, route.white?.presets, (p) => ({
      label: p.label,
      chosen: isSet(preset, p.value),
      measured: p.readingIds.length > 0,
      figures: [p.away, p.residual],
    })),
    mappings: optionsOf(mapping, route.mappings, (m) => ({
      value: m.value,
      label: m.label,
      mapping: m.mapping,
      sentence: priceOfMapping(m),
      chosen: isSet(mapping, m.value),
      curve: m.curve,
    })),
    dimming: dimmed && { ...dimmed, hdr: signal.transfer !== 'sdr' },
    dynamic: optionsOf(dynamic, route.processing?.dynamic, (d) => ({
      label: d.label,
      chosen: isChosen(dynamic, d.value),
      measured: true,
      figures: [d.black, d.shade, d.middle],
    })),
  }
}

/** What was judged by eye. */
const visualChecksView = (record: SessionRecord, route: Route): FindingsView['visualChecks'] => {
  const sheet = record.sheet.document
  const label = (key: string) => controlOf(sheet, key).label
  return record.verdicts.map((v) => {
    const question = route.processing?.questions.find((q) => q.key === v.question)
    const answer = question?.answers.find((a) => a.key === v.answer)
    return {
      title: question?.title ?? v.question,
      answer:
        v.controlKey && v.value !== null
          ? `${label(v.controlKey)} ${showValue(controlOf(sheet, v.controlKey), v.value)}`
          : (answer?.text ?? v.answer),
      wrong: answer?.wrong ?? '',
      conditions: v.conditions,
      pattern: v.pattern,
    }
  })
}

/** The values that came out, where it stopped, and what each adjustment bought. */
const valueViews = (
  { sheet, state }: RouteFacts,
  route: Route,
): Pick<FindingsView, 'derived' | 'more' | 'bought'> => {
  const shown = (control: Control, value = state[control.key] ?? control.default) => showValue(control, value)
  return {
    derived: route.derived.map((d) => {
      const control = controlOf(sheet, d.control)
      return {
        label: control.label,
        path: control.path,
        shown: shown(control, d.value),
        step: STEP_TITLE[d.step],
        rule: d.rule,
        readings: new Set(d.readingIds).size,
      }
    }),
    more: route.more.map((m) => ({
      step: STEP_TITLE[m.step],
      gain: m.gain,
      readings: m.readings,
    })),
    bought: boughtBy(route).map(({ step, error }) => ({
      step: step === 'preset' ? 'White preset' : STEP_TITLE[step],
      error,
    })),
  }
}

/** Luminances at which the reference tone mapping is drawn, cd/m². */
const DRAWN = Array.from({ length: 40 }, (_, i) => 10 ** (-1 + (5 * i) / 39))

export const hdrView = (hdr: HdrFindings, asked?: AskedHdr): HdrView => {
  const peak = hdr.peakByWindow.find((w) => w.window === USUAL_WINDOW)?.sustained
  const { masteringPeak } = hdr
  return {
    ...hdr,
    reference:
      peak && masteringPeak
        ? DRAWN.filter((l) => l <= masteringPeak).map((target) => ({
            target,
            luminance: bt2390(target, { peak: masteringPeak, black: 0 }, { peak, black: 0 }),
          }))
        : [],
    sentences: [...sayHdr(hdr), ...(asked ? sayAskedHdr(asked) : [])],
    asked: asked ? { colours: asked.colours, hlg: asked.hlg ?? null } : null,
  }
}

const levelsView = (
  facts: RouteFacts,
  route: Route,
  { light, black, whiteLevel }: ReturnType<typeof controlsByRole>,
): LevelsView | null => {
  const { luminance, blackLevel, whiteLevel: white } = route
  if (!luminance && !blackLevel && !white) return null
  const value = (control: Control | undefined, v: string | number | undefined) =>
    control && v !== undefined ? showValue(control, v) : ''
  return {
    control: light?.label ?? '',
    luminance: luminance
      ? {
          value: value(light, luminance.value),
          luminance: luminance.luminance,
          factory: luminance.outOfBox
            ? { value: value(light, luminance.outOfBox.value), luminance: luminance.outOfBox.luminance }
            : null,
          outOfReach: luminance.outOfReach ?? '',
          room: luminance.room.map((r) => ({
            target: r.target,
            value: value(light, r.value),
            expected: r.expected,
            between: r.between,
          })),
        }
      : null,
    black: blackLevel
      ? {
          value: value(black, blackLevel.value ?? (black && facts.state[black.key])),
          black: blackLevel.black,
          lastBlack: percent(blackLevel.lastBlack),
          firstSeen: blackLevel.firstSeen === undefined ? null : percent(blackLevel.firstSeen),
        }
      : null,
    whiteLevel: white
      ? {
          value: value(whiteLevel, white.value ?? (whiteLevel && facts.state[whiteLevel.key])),
          slopes: white.slopes,
          apart: white.apart,
        }
      : null,
  }
}

const levelRows = (facts: RouteFacts, route: Route): LevelRow[] => {
  const { byRole, scale, patches } = route.context
  const { levelWhite, levelTone } = byRole
  const { state } = facts
  const own = [
    ...levelWhite.map((l) => ({ ...l, name: l.channel as string })),
    ...levelTone.map((l) => ({ ...l, name: 'light' })),
  ]
  return route.levelErrors.map(({ level, error, tone }) => ({
    level: percent(level),
    label: scale.sayLevel(percent(level), patches),
    error,
    tone: 100 * tone,
    values: own
      .filter((l) => Math.abs(l.level - level) < 1e-6)
      .map(({ control, name }) => {
        const value = state[control.key] ?? control.default
        return {
          channel: name,
          shown: showValue(control, value),
          changed: value !== (control.neutral ?? control.default),
        }
      }),
  }))
}

/** Settings that colours rest on; what only dims leaves them as they were. */
const OF_COLOUR: readonly Role[] = [
  'tone-curve',
  'white-preset',
  'gain',
  'cut',
  'level-white',
  'level-tone',
  'gamut',
  'hue',
  'saturation',
  'colour-luminance',
  'colour-amount',
]

const colourView = (route: Route): FindingsView['colour'] => {
  const { before, colour, verify } = route
  const { state } = route.context.facts
  // A verification that stands no more says nothing of now.
  const after =
    verify && differsIn(route.context.facts, OF_COLOUR, verify.state, state).length === 0
      ? route.after
      : undefined
  if (!before && !colour) return null
  const patches = [...route.context.patches.six, ...route.context.patches.memoryColours]
  const rows = patches.flatMap((patch): ColourRow[] => {
    const factory = before?.colours.find((c) => c.patch === patch.key)?.deltaE
    const now =
      after?.colours.find((c) => c.patch === patch.key)?.deltaE ??
      colour?.errors.find((e) => e.patch === patch.key)?.error
    return factory === undefined && now === undefined
      ? []
      : [
          {
            key: patch.key,
            label: patch.label,
            swatch: eightBit(patch),
            natural: isMemoryColour(patch.key),
            factory,
            now,
          },
        ]
  })
  return {
    rows,
    gamuts: route.gamuts.map((g) => ({
      label: g.label,
      chosen: route.derived.some((d) => d.value === g.value),
      measured: true,
      figures: [g.error],
    })),
    error: colour?.error ?? 0,
    best: colour?.best ?? 0,
  }
}

/** What is switched off while it is measured, and its default. */
const measuringList = ({ sheet, baseMode, state, signal }: RouteFacts): FindingsView['measuring'] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const inMode = baseMode ?? (mode ? String(state[mode.key]) : undefined)
  return sheet.controls.flatMap((control) =>
    MEASURED_AT_NEUTRAL.has(control.role) && control.neutral !== undefined
      ? [
          {
            label: control.label,
            path: control.path,
            shown: showValue(control, control.neutral),
            from: showValue(control, factoryValue(control, inMode, signalKind(signal))),
          },
        ]
      : [],
  )
}

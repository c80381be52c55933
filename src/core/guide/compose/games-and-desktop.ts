import type { z } from 'zod'
import { type Control, controlByRole, isOfPicture, type State } from '#core/display'
import type { GamesAndDesktop, GuideResponse } from '#core/guide/document'
import { inFrames, type PairResponse, type ProbePosition, responseByPair } from '#core/measure'
import { quoted } from '#core/model'
import type { Route } from '#core/plan'
import { signalKind } from '#core/signal'
import type { LatencyFindings, RefreshFindings, RouteFacts } from '#core/steps'
import { settledIn } from './advice'

const POSITIONS: readonly ProbePosition[] = ['top', 'middle', 'bottom']
const hertz = (rate: number) => `${Math.round(rate)} Hz`
const listOf = (words: readonly string[]) =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`

const latencyOf = (found: LatencyFindings): GamesAndDesktop['latency'] => {
  const rates = [...new Set(found.rows.map((r) => r.rate))].sort((a, b) => a - b)
  if (rates.length === 0) return undefined
  const keys = [...new Set(found.rows.map((r) => r.option))]
  const at = (option: string | null, rate: number, position: ProbePosition) =>
    found.rows.find((r) => r.option === option && r.rate === rate && r.position === position)
  const middle: ProbePosition = found.rows.some((r) => r.position === 'middle')
    ? 'middle'
    : found.rows[0]!.position
  const saving = found.options.map(({ label, rates: own }) => {
    const helps = own.filter((r) => r.helps)
    if (own.length === 0) return ''
    if (helps.length === 0) return `${label} helps at no rate.`
    const by = listOf(helps.map((r) => `${r.saves.toFixed(0)} ms at ${hertz(r.rate)}`))
    const not = own.filter((r) => !r.helps).map((r) => hertz(r.rate))
    return `${label} saves ${by}${not.length ? `, and nothing at ${listOf(not)}` : ''}.`
  })
  const { price } = found
  return {
    rates,
    options: keys.map((option) => ({
      label:
        found.rows.find((r) => r.option === option)?.label ??
        (found.options.length ? 'Everything that claims to help off' : 'No option to shorten it'),
      chosen: option === found.chosen,
      cells: rates.map((rate) => {
        const row = at(option, rate, middle)
        if (!row) return null
        const told = found.options.find((o) => o.key === option)?.rates.find((r) => r.rate === rate)
        return {
          mean: row.mean,
          spread: row.spread,
          frames: inFrames(row.mean, rate),
          helps: told?.helps ?? null,
          saves: told?.saves ?? null,
        }
      }),
    })),
    places: POSITIONS.filter((p) => found.rows.some((r) => r.position === p)).map((position) => ({
      position,
      cells: rates.map((rate) => at(found.chosen, rate, position)?.mean ?? null),
    })),
    sentences: [
      ...saving.filter(Boolean),
      ...(price?.moves === undefined
        ? []
        : [
            `The picture pays for it with ΔE00 ${price.moves.toFixed(1)} on average${price.light !== undefined && Math.abs(price.light) > 0.01 ? ` and ${price.light > 0 ? 'gains' : 'loses'} ${(100 * Math.abs(price.light)).toFixed(0)} % of its light` : ''}${price.locked.length ? `; greyed out by it: ${listOf(price.locked.slice(0, 6).map((l) => `“${l}”`))}` : ''}.`,
          ]),
    ],
  }
}

const refreshOf = (found: RefreshFindings): GamesAndDesktop['refresh'] => {
  const rates = [...new Set(found.rows.map((r) => r.rate))].sort((a, b) => a - b)
  if (rates.length < 2) return undefined
  return {
    rates,
    levels: found.levels.map(({ level, label, change, seen }) => ({
      label,
      luminance: rates.map(
        (rate) => found.rows.find((r) => r.level === level && r.rate === rate)?.luminance ?? null,
      ),
      change,
      seen,
    })),
  }
}

/** Controls of the picture that a case has moved off their factory value. */
const movedIn = ({ sheet, signal }: RouteFacts, state: State): readonly Control[] => {
  const { factory } = settledIn(sheet, state, signalKind(signal))
  return sheet.controls.filter((c) => isOfPicture(c) && state[c.key] !== factory[c.key])
}

const named = (controls: readonly Control[]): string =>
  `${listOf(controls.slice(0, 6).map((c) => `“${c.label}”`))}${controls.length > 6 ? ` and ${controls.length - 6} more` : ''}`

/** What a computer's SDR shares with its HDR, and what happens to film where a source switches low latency by itself. */
const besideOf = (facts: RouteFacts, state: State): string[] => {
  const { viewingCase, sheet, policy } = facts
  const mode = controlByRole(sheet, 'picture-mode')
  if (viewingCase === 'desktop') {
    const moved = movedIn(facts, state)
    // In another mode a value that is stored with the mode is another one.
    const always = moved.filter(
      (c) => !c.memory.includes('signal') && !c.memory.includes('mode') && c !== mode,
    )
    const inOneMode = moved.filter((c) => !c.memory.includes('signal') && c.memory.includes('mode'))
    return [
      ...(always.length
        ? [`HDR from the computer gets the same values of ${named(always)}: the display keeps one for both.`]
        : []),
      ...(inOneMode.length && mode
        ? [
            `${named(inOneMode)} would hold for HDR too if that stood in the same mode: give HDR a mode of its own in ${quoted(mode)}.`,
          ]
        : []),
      ...(moved.length && !always.length && !inOneMode.length
        ? ['Nothing that was set here holds for HDR: the display keeps SDR and HDR apart.']
        : []),
    ]
  }
  if (viewingCase !== 'sdr-game' && viewingCase !== 'hdr-game') return []
  const controls = sheet.controls.filter((c) => c.role === 'latency')
  if (controls.length === 0) return []
  const byMode = controls.filter((c) => c.memory.includes('mode'))
  const byInput = controls.filter((c) => !byMode.includes(c) && c.memory.includes('input'))
  const once = controls.filter((c) => !byMode.includes(c) && !byInput.includes(c))
  return [
    ...(once.length
      ? [
          `The display stores ${named(once)} once for everything: films are shown with it as well, unless it is set back.`,
        ]
      : []),
    ...(byInput.length
      ? [
          `The display stores ${named(byInput)} with the input: films from the same source are shown with it as well.`,
        ]
      : []),
    ...(byMode.length
      ? [
          `The display stores ${named(byMode)} with the picture mode: films keep theirs in the mode they are watched in.`,
        ]
      : []),
    policy.automaticSwitching === 'on'
      ? 'The source may switch low latency on its own (policy): what it plays as a game is shown in the game mode of the display, with the values of that mode. A film that it flags as a game, or a game that it does not flag, gets the values of the other: look at the mode on the screen.'
      : 'Automatic switching by the source stays off (policy): the mode is chosen by hand, and a film never lands in the game mode.',
  ]
}

/**
 * What was found of games and of the desktop, in the shape in which a guide keeps it. In: route; state that the display stands in. Out: undefined where
 * there is nothing.
 */
export const gamesAndDesktopOf = (route: Route, state: State): GamesAndDesktop | undefined => {
  const { latency, refresh, clamps = [], uniformity, tradeOffs = [], hdr, context } = route
  const { traces = [] } = context.facts
  const screens = hdr?.sourceScreens
  const gamut = context.byRole.gamut && state[context.byRole.gamut.key]
  const beside = besideOf(context.facts, state)
  const play: GamesAndDesktop = {
    ...(latency ? { latency: latencyOf(latency) } : {}),
    ...(refresh ? { refresh: refreshOf(refresh) } : {}),
    ...(screens
      ? {
          sourceScreens: {
            black: screens.black,
            peak: screens.peak,
            fullFrame: screens.fullFrame ?? null,
            sentences: [...screens.sentences],
          },
        }
      : {}),
    ...(clamps.length
      ? {
          clamps: clamps.map(({ value, label, natural, gamma }) => ({
            label,
            chosen: value === gamut,
            natural,
            gamma: gamma ?? null,
          })),
        }
      : {}),
    ...(uniformity
      ? {
          uniformity: {
            rows: uniformity.rows.map(({ x, y, luminance, deltaUv }) => ({ x, y, luminance, deltaUv })),
            evenness: uniformity.evenness,
            worstUv: uniformity.worstUv,
          },
        }
      : {}),
    ...(traces.length ? { response: responseByPair(traces).map(withNulls) } : {}),
    ...(beside.length ? { beside } : {}),
    ...(tradeOffs.length
      ? {
          helpers: tradeOffs.map(({ control, label, term, steps, near, rows, sentences }) => ({
            label,
            term,
            steps,
            ...(near ? { near } : {}),
            rows: rows.map(
              ({ value, label: name, luminance, steps: told, middle, near: end, onOff, board }) => ({
                label: name,
                chosen: state[control] === value,
                luminance,
                ...defined({ steps: told, middle, near: end, onOff, board }),
              }),
            ),
            sentences: [...sentences],
          })),
        }
      : {}),
  }
  return Object.values(play).some((part) => part !== undefined) ? play : undefined
}

const withNulls = ({ from, to, ...of }: PairResponse): z.infer<typeof GuideResponse> => ({
  from,
  to,
  rise: of.rise ?? null,
  fall: of.fall ?? null,
  riseOvershoot: of.riseOvershoot ?? null,
  fallOvershoot: of.fallOvershoot ?? null,
})

const defined = <T extends object>(value: T): { [K in keyof T]?: NonNullable<T[K]> } =>
  Object.fromEntries(Object.entries(value).filter(([, v]) => v !== undefined)) as {
    [K in keyof T]?: NonNullable<T[K]>
  }

/** Overshoot of a pair, upwards and downwards, in percent of the step. */
export const sayOvershoot = ({
  riseOvershoot: up,
  fallOvershoot: down,
}: Pick<z.infer<typeof GuideResponse>, 'riseOvershoot' | 'fallOvershoot'>): string => {
  const percent = (n: number | null) => (n === null ? '–' : `${Math.round(100 * n)} %`)
  return up === null && down === null ? '–' : `${percent(up)} / ${percent(down)}`
}

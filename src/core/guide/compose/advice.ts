import {
  type Control,
  type ControlSheet,
  controlByRole,
  factoryState,
  greyedOut,
  isOfPicture,
  type Role,
  type State,
  showValue,
  slotOf,
} from '#core/display'
import type { CaseDocument, Trouble } from '#core/guide/document'
import { sayWhole } from '#core/measure'
import { quoted } from '#core/model'
import type { PanelKind } from '#core/protocol'
import type { SignalKind } from '#core/signal'

const listed = (names: readonly string[], most = 3): string => {
  const few = names.slice(0, most)
  const more = names.length - few.length
  if (more > 0) return `${few.join(', ')} and ${more} more`
  return few.length > 1 ? `${few.slice(0, -1).join(', ')} and ${few.at(-1)}` : (few[0] ?? '')
}

/** What advice is given from: the sheet, the final state, the state out of the box in the same mode, the kind of signal. */
export interface Settled {
  readonly sheet: ControlSheet
  readonly state: State
  readonly factory: State
  readonly kind: SignalKind
}

const changedIn = ({ sheet, state, factory }: Settled, ...roles: readonly Role[]): Control[] =>
  sheet.controls.filter((c) => roles.includes(c.role) && (state[c.key] ?? c.default) !== factory[c.key])

/** What may look wrong with the settings of a case, and what to do then, in this display's own words. In: settings; luminance of white or peak, cd/m², where it was measured. */
export const troublesOf = (settled: Settled, luminance?: number): Trouble[] => {
  const { sheet, state, factory, kind } = settled
  const hdr = kind !== 'sdr'
  const one = (role: Role) => controlByRole(sheet, role)
  const [light, preset, black, motion, dimming, mode] = (
    ['peak-luminance', 'white-preset', 'black-level', 'motion', 'dimming', 'picture-mode'] as const
  ).map(one)
  const gains = changedIn(settled, 'gain', 'cut')
  const needs = changedIn(settled, 'gain', 'cut', 'level-white', 'peak-luminance', 'hue', 'saturation')
    .flatMap((c) => (c.needs ?? []).flatMap((n) => ('control' in n ? [{ control: c, need: n }] : [])))
    .slice(0, 1)
  return [
    ...(hdr
      ? [
          {
            looks: 'HDR looks dim.',
            do: `Check on the display’s signal page that HDR arrives${light ? `, that ${quoted(light)} is ${showValue(light, state[light.key] ?? light.default)}` : ''}, and that nothing saves power. HDR is mastered for a dark room: by day it is too dim on most displays.`,
          },
        ]
      : light
        ? [
            {
              looks: 'The picture is too dark, or too bright.',
              do: `Set ${quoted(light)} for your room: it changes nothing else.${luminance === undefined ? '' : ` ${showValue(light, state[light.key] ?? light.default)} gave ${sayWhole(luminance)} cd/m² here.`}`,
            },
          ]
        : []),
    ...(preset && state[preset.key] !== factory[preset.key]
      ? [
          {
            looks: 'White looks yellow at first.',
            do: `Out of the box it was bluer. Give it an evening or two; if it still looks wrong, put ${quoted(preset)} back to ${showValue(preset, factory[preset.key] ?? preset.default)}.`,
          },
        ]
      : []),
    ...(gains.length
      ? [
          {
            looks: 'White looks tinted, green or pink.',
            do: `Put ${listed(gains.map((c) => quoted(c)))} back to their defaults and keep the rest: they fit our unit, and yours differs.`,
          },
        ]
      : []),
    ...(needs.length
      ? needs.map(({ control, need }) => {
          const chooser = sheet.controls.find((c) => c.key === need.control)
          return {
            looks: `${quoted(control)} is greyed out.`,
            do: `It can be set only while ${chooser ? quoted(chooser) : 'another control'} is ${need.is
              .map((v) => (chooser ? showValue(chooser, v) : String(v)))
              .join(' or ')}. Set the values from the top down${mode ? `, ${quoted(mode)} first` : ''}.`,
          }
        })
      : mode
        ? [
            {
              looks: 'A value is greyed out.',
              do: `It usually waits for another one: choose ${showValue(mode, state[mode.key] ?? mode.default)} first, then set the values from the top down.`,
            },
          ]
        : []),
    ...(black && !greyedOut(sheet, black, state, kind)
      ? [
          {
            looks: 'Dark scenes lose their detail.',
            do: `Raise ${quoted(black)} one click at a time until the first steps above black can be told apart, no further.`,
          },
        ]
      : []),
    ...(dimming && !greyedOut(sheet, dimming, state, kind)
      ? [
          {
            looks: 'Light glows around bright things on black.',
            do: `That is local dimming: try a lower step of ${quoted(dimming)}.`,
          },
        ]
      : []),
    ...(motion
      ? [
          {
            looks: 'Films look too smooth, or stutter.',
            do: `That is ${quoted(motion)}, and a matter of taste: off is as it was made.`,
          },
        ]
      : []),
  ]
}

/** How a display is brought back to where it was: what a reset of the mode takes back, and what it does not. */
export const goBackOf = (settled: Settled): string[] => {
  const { sheet, state, factory } = settled
  const mode = controlByRole(sheet, 'picture-mode')
  const changed = sheet.controls.filter(
    (c) => c !== mode && isOfPicture(c) && (state[c.key] ?? c.default) !== factory[c.key],
  )
  // What is stored with a white preset goes back with the mode that the preset stands in.
  const kept = changed.filter((c) => mode && !c.memory.includes('mode') && !c.memory.includes('white-preset'))
  return [
    mode
      ? `Reset ${showValue(mode, state[mode.key] ?? mode.default)} in the display’s own menu: it takes back what is stored with that mode.`
      : 'Reset the picture in the display’s own menu.',
    ...(kept.length
      ? [
          `Not stored with the mode, so set back by hand: ${listed(
            kept.map((c) => `${quoted(c)} to ${showValue(c, factory[c.key] ?? c.default)}`),
            6,
          )}.`,
        ]
      : []),
  ]
}

/** Cautions that belong to the settings of a case. Wexmar defers to the maker's instructions. */
export const cautionsOf = (settled: Settled, panelKind: PanelKind): string[] => {
  const care = changedIn(settled, 'panel-care')
  const said = settled.sheet.controls.filter(
    (c) => c.caution && settled.state[c.key] !== settled.factory[c.key],
  )
  return [
    ...(panelKind === 'projector'
      ? ['Never look into the lens or the beam, and keep people out of it near the lens.']
      : []),
    ...(panelKind === 'self-emissive'
      ? [
          `This kind of panel can keep images of still pictures: let its own care run${care.length ? `, and turn ${listed(care.map((c) => quoted(c)))} back on where still pictures stand for hours` : ''}.`,
        ]
      : []),
    ...(settled.kind === 'sdr'
      ? []
      : ['HDR highlights are very bright: keep away from full-screen white test pictures.']),
    ...settled.sheet.controls
      .filter((c) => c.role === 'black-frames')
      .map(
        (c) =>
          `${quoted(c)} inserts black frames, which flicker and can hurt photosensitive people: ${settled.state[c.key] === c.neutral ? 'it is off here, leave it off' : 'they turn it off'}.`,
      ),
    ...(changedIn(settled, 'motion').length
      ? ['Motion options that insert black flicker, which can hurt photosensitive people: leave them off.']
      : []),
    ...(changedIn(settled, 'sound').length
      ? ['Turn the volume down before sound is tried: test tones can be louder than they look.']
      : []),
    ...said.map((c) => `${quoted(c)}: ${c.caution}`),
  ]
}

/**
 * Controls in an order in which each can be set from the state out of the box: the mode first, then menu order, each as soon as what it waits for is set.
 * In: settings. Out: keys; what can never be set comes last.
 */
export const orderOf = ({ sheet, state, factory, kind }: Settled): string[] => {
  const mode = controlByRole(sheet, 'picture-mode')
  const waiting = sheet.controls.filter((c) => c !== mode && isOfPicture(c))
  const order = mode ? [mode.key] : []
  let now: State = { ...factory, ...(mode ? { [mode.key]: state[mode.key] ?? mode.default } : {}) }
  while (waiting.length > 0) {
    const at = waiting.findIndex((c) => !greyedOut(sheet, c, now, kind))
    const [next] = waiting.splice(Math.max(0, at), 1)
    order.push(next!.key)
    if (at >= 0) now = { ...now, [next!.key]: state[next!.key] ?? next!.default }
  }
  return order
}

/** Place of the display's memory and value of each control of the picture. In: settings. Out: by key of the control. */
export const memoryOf = ({ sheet, state, kind }: Settled): NonNullable<CaseDocument['memory']> =>
  Object.fromEntries(
    sheet.controls
      .filter(isOfPicture)
      .map((c) => [c.key, { place: slotOf(sheet, c, state, kind), value: state[c.key] ?? c.default }]),
  )

/** Settings of a case with what the display has out of the box in the same mode. In: sheet, final state, kind of signal. */
export const settledIn = (sheet: ControlSheet, state: State, kind: SignalKind): Settled => {
  const chooser = controlByRole(sheet, 'picture-mode')
  const mode = chooser && String(state[chooser.key] ?? chooser.default)
  return {
    sheet,
    state,
    kind,
    factory: { ...factoryState(sheet, mode, kind), ...(chooser ? { [chooser.key]: chooser.default } : {}) },
  }
}

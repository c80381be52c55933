import {
  type Channel,
  type ChoiceControl,
  type Control,
  type ControlSheet,
  type ControlValue,
  type Hue,
  type NumberControl,
  type Role,
  STRENGTHS,
  showValue,
} from '#core/display'

export const CHANNELS: readonly Channel[] = ['red', 'green', 'blue']

/** A control of one grey level. */
interface LevelControl {
  /** Signal, 0…1. */
  readonly level: number
  readonly channel: Channel
  readonly control: NumberControl
}

/** A control of one colour: how it turns, saturates or lightens it, or how much of a channel is in it. */
export interface ColourControl {
  readonly control: NumberControl
  /** The colour it is for; all colours where it is left out. */
  readonly colour?: Hue
  readonly kind: 'hue' | 'saturation' | 'luminance' | 'amount'
  /** For amounts. */
  readonly channel?: Channel
}

type ByChannel = Readonly<Partial<Record<Channel, NumberControl>>>

/** The controls of a sheet by what they do; what a display does not have is missing. */
export interface ControlsByRole {
  readonly mode?: Control
  /** How much light the panel gives: a number, or a choice of a few steps in their order. */
  readonly light?: Control
  readonly black?: NumberControl
  readonly whiteLevel?: NumberControl
  readonly lift?: Control
  readonly tone?: Control
  readonly preset?: Control
  readonly gain: ByChannel
  readonly cut: ByChannel
  /** Rising in level. */
  readonly levelWhite: readonly LevelControl[]
  readonly levelTone: ReadonlyArray<Omit<LevelControl, 'channel'>>
  readonly colours: readonly ColourControl[]
  readonly gamut?: ChoiceControl
  /** What dims light with the picture, in menu order. */
  readonly strengths: readonly ChoiceControl[]
  readonly dynamic?: ChoiceControl
  readonly latency?: Control
  readonly mapping?: Control
}

const isNumber = (c: Control): c is NumberControl => c.kind === 'number'
const isChoice = (c: Control): c is ChoiceControl => c.kind === 'choice'

const COLOUR_KIND: Readonly<Partial<Record<Role, ColourControl['kind']>>> = {
  hue: 'hue',
  saturation: 'saturation',
  'colour-luminance': 'luminance',
  'colour-amount': 'amount',
}

/** The controls of a sheet by what they do, whatever their labels say. */
export const controlsByRole = (sheet: ControlSheet): ControlsByRole => {
  const numbers = sheet.controls.filter(isNumber)
  const first = (role: Role) => sheet.controls.find((c) => c.role === role)
  const number = (role: Role) => numbers.find((c) => c.role === role)
  const choice = (role: Role) => sheet.controls.filter(isChoice).find((c) => c.role === role)
  const byChannel = (role: Role): ByChannel =>
    Object.fromEntries(
      CHANNELS.flatMap((channel) => {
        const control = numbers.find((c) => c.role === role && c.channel === channel)
        return control ? [[channel, control]] : []
      }),
    )
  return {
    mode: first('picture-mode'),
    light: number('peak-luminance') ?? choice('peak-luminance'),
    black: number('black-level'),
    whiteLevel: number('white-level'),
    lift: first('shadow-lift'),
    tone: first('tone-curve'),
    preset: first('white-preset'),
    gain: byChannel('gain'),
    cut: byChannel('cut'),
    levelWhite: numbers
      .flatMap((control): LevelControl[] =>
        control.role === 'level-white' && control.level !== undefined && control.channel
          ? [{ level: control.level, channel: control.channel, control }]
          : [],
      )
      .sort((a, b) => a.level - b.level),
    levelTone: numbers
      .flatMap((control) =>
        control.role === 'level-tone' && control.level !== undefined
          ? [{ level: control.level, control }]
          : [],
      )
      .sort((a, b) => a.level - b.level),
    colours: numbers.flatMap((control): ColourControl[] => {
      const kind = COLOUR_KIND[control.role]
      if (!kind || (kind === 'amount' && (!control.channel || !control.colour))) return []
      return [{ control, kind, colour: control.colour, channel: control.channel }]
    }),
    gamut: choice('gamut'),
    strengths: sheet.controls.filter(isChoice).filter((c) => STRENGTHS.has(c.role)),
    dynamic: choice('dynamic-contrast'),
    latency: first('latency'),
    mapping: first('tone-mapping'),
  }
}

/** Place of a value on its control: the number itself, or the place of a choice in its list. */
export const placeOf = (control: Control, value: ControlValue | undefined): number =>
  control.kind === 'number' ? Number(value) : control.choices.findIndex((c) => c.value === value)

/** Value at a place of a control. */
export const valueAt = (control: Control, place: number): ControlValue =>
  control.kind === 'number' ? Number(place.toFixed(9)) : control.choices[Math.round(place)]!.value

/** Lowest and highest place of a control, and the distance of two places next to each other. */
export const placesOf = (control: Control): { min: number; max: number; step: number } =>
  control.kind === 'number' ? control.range : { min: 0, max: control.choices.length - 1, step: 1 }

/** Whole clicks between neutral (or default) and the nearer end that is not neutral itself; at least 1. */
export const reachOf = (control: NumberControl): number => {
  const { min, max, step } = control.range
  const neutral = control.neutral ?? control.default
  const sides = [neutral - min, max - neutral].map((s) => Math.round(s / step)).filter((s) => s > 0)
  return Math.max(1, Math.min(...sides))
}

/** A control's label as people quote it, with its channel where the label does not say it. */
export const quoted = (control: Control): string =>
  `“${control.label}”${control.colour ? ` of ${control.colour}` : ''}`

/** A value of a control as its menu shows it. */
export const shown = (control: Control, value: ControlValue | undefined): string =>
  value === undefined ? 'unknown' : showValue(control, value)

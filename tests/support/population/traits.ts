import { type Control, ControlSheet } from '#core/display'
import { uniform } from '#core/random'
import type { Drawn } from './draw'

/** What a display of the population has besides: each is met on real ones, and by no display that ships. */
export type Trait =
  | 'zones that cannot be switched off'
  | 'care for the panel'
  | 'dims above a quarter of the screen'
  | 'gains that only come down, no cuts'
  | 'gamma without telling names'
  | 'iris'
  | 'a meter that scatters twice what it states'
  | 'colours off hue by hue'
  | 'all colours too strong, and off hue by hue'

export const TRAITS: readonly Trait[] = [
  'zones that cannot be switched off',
  'care for the panel',
  'dims above a quarter of the screen',
  'gains that only come down, no cuts',
  'gamma without telling names',
  'iris',
  'a meter that scatters twice what it states',
  'colours off hue by hue',
  'all colours too strong, and off hue by hue',
]

const choice = (
  key: string,
  role: string,
  values: readonly string[],
  first: string,
  more: object = {},
): Control =>
  ({
    ...{ kind: 'choice', key, path: ['Menu', 'More'], label: key, role, memory: ['mode'], default: first },
    choices: values.map((value) => ({ value, label: value })),
    ...more,
  }) as Control

const number = (key: string, path: string[], role: string, more: object): Control =>
  ({
    ...{ kind: 'number', key, path, label: key, role, memory: ['mode'] },
    ...{ range: { min: -50, max: 50, step: 1 }, default: 0, neutral: 0 },
    ...more,
  }) as Control

/** Hue, saturation and luminance of each of the six colours. */
const sixColours = (): Control[] =>
  (['red', 'yellow', 'green', 'cyan', 'blue', 'magenta'] as const).flatMap((colour) =>
    (['hue', 'saturation', 'colour-luminance'] as const).map((role) =>
      number(`six-${colour}-${role}`, ['Menu', 'Colours', colour], role, { colour }),
    ),
  )

/** A display with one trait more. In: display, trait; the same display and trait give the same one. */
export const withTrait = (d: Drawn, trait: Trait): Drawn => {
  const next = uniform(32_452_843 * d.seed + 11)
  const between = (a: number, b: number) => a + (b - a) * next()
  const having = (...controls: readonly Control[]) =>
    ControlSheet.parse({ ...d.sheet, controls: [...d.sheet.controls, ...controls] })
  switch (trait) {
    case 'zones that cannot be switched off': {
      const crush = between(0.2, 0.5)
      return {
        ...d,
        sheet: having(choice('zones', 'dimming', ['weak', 'middle', 'strong'], 'middle')),
        zones: {
          weak: { leak: 0.6, crush: crush * 0.2 },
          middle: { leak: 0.3, crush: crush * 0.5 },
          strong: { leak: 0.1, crush },
        },
      }
    }
    case 'care for the panel':
      return {
        ...d,
        sheet: having(choice('care', 'panel-care', ['off', 'on'], 'on', { neutral: 'off' })),
        care: between(0.06, 0.12),
      }
    case 'dims above a quarter of the screen':
      return { ...d, windowDimming: between(0.4, 0.7) }
    case 'gains that only come down, no cuts':
      return {
        ...d,
        gain: { ...d.gain, onlyDown: true },
        sheet: ControlSheet.parse({
          ...d.sheet,
          controls: d.sheet.controls.flatMap((c): Control[] =>
            c.role === 'cut'
              ? []
              : c.role === 'gain' && c.kind === 'number'
                ? [{ ...c, range: { ...c.range, min: 0 }, default: c.range.max, neutral: c.range.max }]
                : [c],
          ),
        }),
      }
    case 'gamma without telling names': {
      const names = Object.keys(d.tones)
      const plain = (name: unknown) => `setting-${1 + names.indexOf(String(name))}`
      return {
        ...d,
        tones: Object.fromEntries(Object.entries(d.tones).map(([name, tone]) => [plain(name), tone])),
        sheet: ControlSheet.parse({
          ...d.sheet,
          controls: d.sheet.controls.map((c) =>
            c.role === 'tone-curve' && c.kind === 'choice'
              ? {
                  ...c,
                  choices: c.choices.map(({ value }) => ({ value: plain(value), label: plain(value) })),
                  default: plain(c.default),
                }
              : c,
          ),
        }),
      }
    }
    case 'iris':
      return {
        ...d,
        sheet: having(choice('iris', 'iris', ['open', 'half', 'moving'], 'open', { neutral: 'open' })),
        iris: {
          open: { light: 1, black: 1 },
          half: { light: between(0.6, 0.8), black: 0.4 },
          moving: { light: 0.97, black: 0.15 },
        },
      }
    case 'a meter that scatters twice what it states':
      return { ...d, meter: { ...d.meter, scatters: 2 } }
    case 'colours off hue by hue':
    case 'all colours too strong, and off hue by hue': {
      const own = d.sheet.controls.filter((c) => c.colour)
      const six = own.length ? own : sixColours()
      const strength = number('strength', ['Menu', 'Colours'], 'saturation', {})
      const off = Object.fromEntries([
        ...six.map((c) => [c.key, Math.round(between(-12, 12))]),
        ...(trait === 'colours off hue by hue' ? [] : [[strength.key, 25]]),
      ])
      return {
        ...d,
        sheet: having(...(own.length ? [] : six), ...(trait === 'colours off hue by hue' ? [] : [strength])),
        colour: {
          ...d.colour,
          kind: d.colour.kind === 'none' ? 'hsl' : d.colour.kind,
          perClick: Math.max(d.colour.perClick, 0.004),
          off,
        },
      }
    }
  }
}

import type { Control } from '#core/display'
import { SimulatedModel } from './model'
import { CHANNELS, choice, number, ON_OFF, PER_MODE } from './parts'

const VIEW = 'View'
const FINER = [VIEW, 'Finer']
/** White values hang on the preset alone: two modes that use one preset share them, SDR and HDR too. */
const WITH_PRESET: Control['memory'] = ['white-preset']
const name = (word: string) => `${word[0]!.toUpperCase()}${word.slice(1)}`

/**
 * An invented edge-lit television: gains that only come down, ten levels, no colour management but colour, hue and a
 * choice of gamut, white values shared by the modes of one preset, and the word “Luminosity” for the panel light.
 */
export const TAVIN: SimulatedModel = SimulatedModel.parse({
  format: 'wexmar-simulated-display/1',
  sizeInch: 43,
  panelKind: 'lcd-edge-lit',
  sheet: {
    format: 'wexmar-control-sheet/2',
    maker: 'Quill & Farrow',
    model: 'Tavin',
    controls: [
      choice(
        ['view', [VIEW], 'Kind of view', 'picture-mode', ['input']],
        { film: 'Film', home: 'Home', vivid: 'Show', sport: 'Pitch', console: 'Console' },
        'home',
      ),
      number(
        ['light', [VIEW], 'Luminosity', 'peak-luminance', PER_MODE],
        { min: 0, max: 20, comes: 16 },
        { caution: 'This is the panel light. Other makers use the same word for the black level.' },
      ),
      number(['contrast', [VIEW], 'Contrast', 'white-level', PER_MODE], { min: 0, max: 100, comes: 92 }),
      number(
        ['brightness', [VIEW], 'Brightness', 'black-level', PER_MODE],
        { min: 0, max: 100, comes: 50, neutral: 50 },
        { caution: 'This moves black, not the light of the panel.' },
      ),
      number(['colour', [VIEW], 'Colour', 'saturation', PER_MODE], {
        min: 0,
        max: 100,
        comes: 54,
        neutral: 50,
      }),
      number(['hue', [VIEW], 'Hue', 'hue', PER_MODE], { min: -50, max: 50, comes: 0, neutral: 0 }),
      number(['sharp', [VIEW], 'Crispness', 'sharpness', PER_MODE], {
        min: 0,
        max: 100,
        comes: 50,
        neutral: 50,
      }),
      choice(
        ['power', FINER, 'Gamma', 'tone-curve', PER_MODE],
        { 'minus-2': '−2', 'minus-1': '−1', zero: '0', 'plus-1': '+1', 'plus-2': '+2' },
        'zero',
      ),
      choice(
        ['white', FINER, 'White', 'white-preset', PER_MODE],
        { cool: 'Cool', middle: 'Middle', warm: 'Warm' },
        'middle',
        { inMode: { film: 'warm', console: 'warm' } },
      ),
      ...CHANNELS.map((channel) =>
        number(
          [`gain-${channel}`, [...FINER, 'White amounts'], `${name(channel)} gain`, 'gain', WITH_PRESET],
          { min: -40, max: 0, comes: 0, neutral: 0 },
          { channel },
        ),
      ),
      ...Array.from({ length: 10 }, (_, i) => 10 * (i + 1)).flatMap((level) =>
        CHANNELS.map((channel) =>
          number(
            [
              `cut-${level}-${channel}`,
              [...FINER, 'White amounts', 'Ten cuts', `${level}`],
              name(channel),
              'level-white',
              WITH_PRESET,
            ],
            { min: -20, max: 20, comes: 0, neutral: 0 },
            { channel, level: level / 100 },
          ),
        ),
      ),
      choice(
        ['gamut', FINER, 'Colour width', 'gamut', PER_MODE],
        { automatic: 'Automatic', narrow: 'Narrow', native: 'Own' },
        'native',
        { inMode: { film: 'automatic' } },
      ),
      choice(['active', FINER, 'Active contrast', 'dynamic-contrast', PER_MODE], ON_OFF, 'on', {
        neutral: 'off',
        inMode: { film: 'off' },
      }),
      choice(['edge-dim', FINER, 'Edge dimming', 'dimming', PER_MODE], ON_OFF, 'on', { neutral: 'off' }),
      choice(
        ['range', ['Set-up', 'Sockets'], 'Black and white codes', 'range', ['input']],
        { automatic: 'Automatic', limited: 'Video', full: 'Computer' },
        'automatic',
      ),
      choice(['eco', ['Set-up', 'Energy'], 'Eco', 'power-saving', []], { off: 'Off', on: 'On' }, 'on', {
        neutral: 'off',
      }),
    ],
  },
  primaries: [
    [0.642, 0.334],
    [0.312, 0.618],
    [0.153, 0.064],
  ],
  luminance: { low: 55, high: 330, bend: 1 },
  hdrPeak: 350,
  hdrShadows: 0.4,
  contrast: 1150,
  leak: [0.28, 0.275],
  exponents: [2.26, 2.2, 2.12],
  nominalExponent: 2.2,
  ripple: 0.07,
  crosstalk: 0.015,
  presets: { cool: [0.84, 1, 1.5], middle: [0.93, 1, 1.26], warm: [1.04, 1, 1.1] },
  tones: { 'minus-2': 0.9, 'minus-1': 0.95, zero: 1, 'plus-1': 1.06, 'plus-2': 1.11 },
  bends: { on: 0.18 },
  saving: { on: 0.78 },
  gamuts: { automatic: 'auto', narrow: 'bt709', native: 'native' },
  zones: { on: { depth: 0.6, halo: 1, crush: 0.1 } },
  perClick: { gain: 0.0048, black: 0.0024, white: 0.001, level: 0.0024, hue: 0.005, saturation: 0.011 },
  modes: {
    film: { latency: 58 },
    home: { latency: 61, white: [0.98, 1, 1.03] },
    vivid: { latency: 64, white: [0.93, 1, 1.12], saturation: 1.18 },
    sport: { latency: 64, white: [0.95, 1, 1.1], saturation: 1.12, exponent: 0.93 },
    console: { latency: 17, white: [0.98, 1, 1.04] },
  },
  warmUp: { share: 0.07, seconds: 900, blue: 0.02 },
  spread: { channels: 0.022, luminance: 0.07, exponents: 0.03, primaries: 0.003 },
})

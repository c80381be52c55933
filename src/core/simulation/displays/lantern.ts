import { SimulatedModel } from './model'
import { choice, number, ON_OFF, PER_MODE } from './parts'

const PICTURE = ['Picture']
const LIGHT = ['Light source']

/**
 * An invented laser projector on a screen: laser level and iris, slow to settle after switch-on, three presets for white
 * and nothing finer.
 */
export const LANTERN: SimulatedModel = SimulatedModel.parse({
  format: 'wexmar-simulated-display/1',
  sizeInch: 110,
  panelKind: 'projector',
  sheet: {
    format: 'wexmar-control-sheet/2',
    maker: 'Brae',
    model: 'Lantern 3',
    controls: [
      choice(
        ['programme', PICTURE, 'Programme', 'picture-mode', ['signal']],
        { cinema: 'Dark room', living: 'Living room', stage: 'Stage' },
        'living',
      ),
      number(
        ['laser', LIGHT, 'Laser level', 'peak-luminance', PER_MODE],
        { min: 50, max: 100, comes: 90, step: 5 },
        { caution: 'Never look into the lens or the beam, and keep people out of it near the lens.' },
      ),
      choice(
        ['iris', LIGHT, 'Iris', 'iris', PER_MODE],
        { open: 'Open', half: 'Half', moving: 'Moving' },
        'moving',
        { neutral: 'open' },
      ),
      number(['black', PICTURE, 'Black', 'black-level', PER_MODE], {
        min: -20,
        max: 20,
        comes: 0,
        neutral: 0,
      }),
      number(['white', PICTURE, 'White', 'white-level', PER_MODE], { min: -20, max: 20, comes: 0 }),
      choice(['curve', PICTURE, 'Curve', 'tone-curve', PER_MODE], { a: 'A', b: 'B', c: 'C' }, 'b', {
        needs: [{ signal: ['sdr'] }],
      }),
      choice(
        ['tone-of-white', PICTURE, 'Tone of white', 'white-preset', PER_MODE],
        { high: 'High', middle: 'Middle', low: 'Low' },
        'high',
        { inMode: { cinema: 'low' } },
      ),
      number(['colour', PICTURE, 'Colour', 'saturation', PER_MODE], {
        min: -20,
        max: 20,
        comes: 0,
        neutral: 0,
      }),
      number(['tint', PICTURE, 'Tint', 'hue', PER_MODE], { min: -20, max: 20, comes: 0, neutral: 0 }),
      choice(
        ['space', PICTURE, 'Colour space', 'gamut', PER_MODE],
        { automatic: 'Automatic', native: 'Native' },
        'automatic',
      ),
      choice(['quiet', LIGHT, 'Quiet', 'power-saving', []], ON_OFF, 'off', { neutral: 'off' }),
    ],
  },
  primaries: [
    [0.69, 0.3],
    [0.18, 0.74],
    [0.146, 0.046],
  ],
  luminance: { low: 44, high: 92, bend: 1 },
  hdrPeak: 92,
  hdrShadows: -0.35,
  contrast: 1900,
  leak: [0.29, 0.3],
  exponents: [2.24, 2.22, 2.16],
  nominalExponent: 2.2,
  ripple: 0.05,
  crosstalk: 0.01,
  presets: { high: [0.9, 1, 1.2], middle: [0.97, 1, 1.07], low: [1.02, 1, 1] },
  tones: { a: 0.94, b: 1, c: 1.07 },
  saving: { on: 0.75 },
  gamuts: { automatic: 'auto', native: 'native' },
  zones: { half: { depth: 0.3, halo: 1, crush: 0 }, moving: { depth: 0.5, halo: 1, crush: 0.05 } },
  perClick: { black: 0.0024, white: 0.0022, hue: 0.006, saturation: 0.02 },
  modes: {
    cinema: { latency: 46 },
    living: { latency: 46, white: [0.97, 1, 1.04] },
    stage: { latency: 46, white: [0.86, 1.08, 0.92], exponent: 0.93 },
  },
  warmUp: { share: 0.11, seconds: 1500, blue: 0.03 },
  screen: [1.01, 1, 0.965],
  spread: { channels: 0.02, luminance: 0.06, exponents: 0.02, primaries: 0.003 },
})

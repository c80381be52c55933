import { SimulatedModel } from './model'
import { CHANNELS, choice, number, ON_OFF, PER_MODE } from './parts'

const SCREEN = 'Screen'
const GAME = ['Game']
const SYSTEM = ['System']
const name = (word: string) => `${word[0]!.toUpperCase()}${word.slice(1)}`

/**
 * An invented desktop monitor: fifty steps of luminance, a gamut that is clamped or native, variable refresh, high rates, a
 * control for shadows, weak HDR.
 */
export const PELT: SimulatedModel = SimulatedModel.parse({
  format: 'wexmar-simulated-display/1',
  sizeInch: 27,
  panelKind: 'lcd-edge-lit',
  sheet: {
    format: 'wexmar-control-sheet/2',
    maker: 'Anvik',
    model: 'Pelt Q',
    controls: [
      choice(
        ['preset', [SCREEN], 'Preset', 'picture-mode', ['signal']],
        { own: 'Own', paper: 'Paper', office: 'Office', duel: 'Duel', clamp: 'Standard colour' },
        'office',
      ),
      number(
        ['luminance', [SCREEN], 'Luminance', 'peak-luminance', PER_MODE],
        { min: 0, max: 50, comes: 38 },
        { inMode: { paper: 14 } },
      ),
      number(['white-point', [SCREEN], 'Contrast', 'white-level', PER_MODE], { min: 0, max: 50, comes: 35 }),
      number(
        ['shadows', GAME, 'Shadow light', 'shadow-lift', PER_MODE],
        { min: 0, max: 10, comes: 0, neutral: 0 },
        { inMode: { duel: 4 }, needs: [{ control: 'preset', is: ['own', 'duel', 'office'] }] },
      ),
      choice(
        ['gamma', [SCREEN], 'Greys', 'tone-curve', PER_MODE],
        { low: '1.8', middle: '2.2', high: '2.6' },
        'middle',
        { needs: [{ signal: ['sdr'] }] },
      ),
      choice(
        ['temperature', [SCREEN], 'Temperature', 'white-preset', PER_MODE],
        { bluish: 'Bluish', native: 'Native', reddish: 'Reddish', user: 'Own' },
        'native',
        { inMode: { own: 'user' } },
      ),
      ...CHANNELS.map((channel) =>
        number(
          [`own-${channel}`, [SCREEN, 'Temperature', 'Own'], name(channel), 'gain', ['mode']],
          { min: 0, max: 100, comes: 100, neutral: 100 },
          { channel, needs: [{ control: 'temperature', is: ['user'] }] },
        ),
      ),
      choice(
        ['width', [SCREEN], 'Gamut', 'gamut', PER_MODE],
        { native: 'Native', clamp: 'Clamped' },
        'native',
        { inMode: { clamp: 'clamp' } },
      ),
      number(['edge', [SCREEN], 'Edge', 'sharpness', PER_MODE], { min: 0, max: 10, comes: 5, neutral: 5 }),
      choice(
        ['drive', GAME, 'Pixel drive', 'motion', ['mode']],
        { off: 'Off', mid: 'Middle', max: 'Most' },
        'mid',
        {
          neutral: 'off',
        },
      ),
      choice(['strobe', GAME, 'Strobe', 'black-frames', ['mode']], ON_OFF, 'off', {
        neutral: 'off',
        caution: 'It flickers, which can hurt photosensitive people.',
      }),
      choice(['variable', GAME, 'Variable refresh', 'variable-refresh', []], ON_OFF, 'on'),
      choice(
        ['codes', SYSTEM, 'Code range', 'range', ['input']],
        { automatic: 'Automatic', limited: 'Limited', full: 'Full' },
        'automatic',
      ),
      choice(['economy', SYSTEM, 'Economy', 'power-saving', []], ON_OFF, 'off', { neutral: 'off' }),
    ],
  },
  primaries: [
    [0.672, 0.321],
    [0.266, 0.681],
    [0.15, 0.058],
  ],
  luminance: { low: 34, high: 345, bend: 1.05 },
  hdrPeak: 410,
  contrast: 1080,
  leak: [0.29, 0.29],
  exponents: [2.21, 2.2, 2.17],
  nominalExponent: 2.2,
  ripple: 0.03,
  crosstalk: 0.008,
  presets: {
    bluish: [0.88, 1, 1.18],
    native: [0.97, 1, 1.04],
    reddish: [1.06, 1, 0.86],
    user: [1.02, 1.01, 1.1],
  },
  tones: { low: 0.84, middle: 0.99, high: 1.16 },
  saving: { on: 0.7 },
  blackFrames: { on: 0.45 },
  gamuts: { native: 'native', clamp: 'bt709' },
  toneMapping: {},
  perClick: { gain: 0.0036, white: 0.0016, lift: 0.06 },
  modes: {
    own: { latency: 4 },
    paper: { latency: 4, white: [1.04, 1, 0.88] },
    office: { latency: 4 },
    duel: { latency: 3, saturation: 1.06 },
    clamp: { latency: 4 },
  },
  warmUp: { share: 0.09, seconds: 800, blue: 0.015 },
  spread: { channels: 0.012, luminance: 0.05, exponents: 0.015, primaries: 0.002 },
})

import type { Control } from '#core/display'
import { SimulatedModel } from './model'
import { CHANNELS, choice, number, ON_OFF, PER_MODE, SIX } from './parts'

const PICTURE = 'Picture'
const LIGHT = [PICTURE, 'Light']
const FINE = [PICTURE, 'Fine adjustment']
const WHITE = [...FINE, 'White balance']
const COLOURS = [...FINE, 'Six colours']
const HOUSE = ['House', 'Saving']
/** White values live with the preset, and apart for SDR and HDR. */
const WITH_PRESET: Control['memory'] = ['signal', 'white-preset']
const STRENGTH = { off: 'Off', low: 'Low', high: 'High' }
const HDR_ONLY = [{ signal: ['pq' as const, 'hlg' as const] }]

const LEVELS = Array.from({ length: 20 }, (_, i) => 5 * (i + 1))

/**
 * An invented full-array LCD television: far too bright for a dark room, blue-heavy white, two labels that mislead, twenty
 * levels of white, six colours as amounts, zones in three strengths, a bank of its own for HDR.
 */
export const MAREN: SimulatedModel = SimulatedModel.parse({
  format: 'wexmar-simulated-display/1',
  sizeInch: 55,
  panelKind: 'lcd-full-array',
  sheet: {
    format: 'wexmar-control-sheet/2',
    maker: 'Ostrel',
    model: 'Maren',
    controls: [
      choice(
        ['scene', [PICTURE], 'Scene', 'picture-mode', ['signal', 'input']],
        { studio: 'Studio', lounge: 'Lounge', daylight: 'Daylight', arena: 'Arena' },
        'daylight',
      ),
      number(
        ['panel-light', LIGHT, 'Depth', 'peak-luminance', PER_MODE],
        { min: 0, max: 100, comes: 84 },
        {
          caution:
            'Despite its name this is the light behind the panel. It leaves black and the tone curve alone.',
        },
      ),
      number(
        ['black-level', LIGHT, 'Luminosity', 'black-level', PER_MODE],
        { min: -10, max: 10, comes: 0, neutral: 0 },
        { caution: 'Despite its name this moves black, not the light of the panel. Leave it at 0.' },
      ),
      number(['white-level', LIGHT, 'Crest', 'white-level', PER_MODE], { min: 0, max: 100, comes: 90 }),
      choice(['curve-lift', LIGHT, 'Curve lift', 'dynamic-contrast', PER_MODE], STRENGTH, 'low', {
        neutral: 'off',
      }),
      choice(
        ['zones', LIGHT, 'Zone depth', 'dimming', PER_MODE],
        { off: 'Off', low: 'Low', middle: 'Middle', high: 'High' },
        'middle',
        { neutral: 'off' },
      ),
      choice(
        ['curve', FINE, 'Curve', 'tone-curve', PER_MODE],
        { lighter: 'Lighter', middle: 'Middle', deeper: 'Deeper' },
        'middle',
        { needs: [{ signal: ['sdr'] }] },
      ),
      choice(
        ['highlights', FINE, 'Highlights', 'tone-mapping', PER_MODE],
        { fixed: 'Fixed', scene: 'By scene' },
        'scene',
        { needs: HDR_ONLY },
      ),
      choice(
        ['warmth', FINE, 'Warmth', 'white-preset', PER_MODE],
        { frost: 'Frost', plain: 'Plain', amber: 'Amber' },
        'plain',
      ),
      ...(['gain', 'cut'] as const).flatMap((role) =>
        CHANNELS.map((channel) =>
          number(
            [
              `${role}-${channel}`,
              [...WHITE, 'Two-point'],
              `${role === 'gain' ? 'Gain' : 'Cut'}, ${channel}`,
              role,
              WITH_PRESET,
            ],
            { min: -30, max: 30, comes: 0, neutral: 0 },
            { channel },
          ),
        ),
      ),
      ...LEVELS.flatMap((level) =>
        CHANNELS.map((channel) =>
          number(
            [
              `step-${level}-${channel}`,
              [...WHITE, 'Twenty steps', `${level} %`],
              channel === 'red' ? 'Red' : channel === 'green' ? 'Green' : 'Blue',
              'level-white',
              WITH_PRESET,
            ],
            { min: -50, max: 50, comes: 0, neutral: 0 },
            { channel, level: level / 100 },
          ),
        ),
      ),
      number(['colour', FINE, 'Strength of colour', 'saturation', PER_MODE], {
        min: 0,
        max: 100,
        comes: 50,
        neutral: 50,
      }),
      choice(
        ['reach', FINE, 'Reach of colour', 'gamut', PER_MODE],
        { automatic: 'Automatic', open: 'Open' },
        'automatic',
        { inMode: { arena: 'open' } },
      ),
      ...SIX.flatMap((colour) =>
        CHANNELS.map((channel) =>
          number(
            [
              `six-${colour}-${channel}`,
              [...COLOURS, `${colour[0]!.toUpperCase()}${colour.slice(1)}`],
              `${channel[0]!.toUpperCase()}${channel.slice(1)} share`,
              'colour-amount',
              PER_MODE,
            ],
            { min: -50, max: 50, comes: 0, neutral: 0 },
            { colour, channel },
          ),
        ),
      ),
      number(['outline', FINE, 'Outline', 'sharpness', PER_MODE], { min: 0, max: 20, comes: 8, neutral: 0 }),
      choice(
        ['input-range', [PICTURE, 'Input'], 'Code range', 'range', ['input']],
        { automatic: 'Automatic', limited: '16 to 235', full: '0 to 255' },
        'automatic',
      ),
      choice(['quick', [PICTURE, 'Input'], 'Quick response', 'latency', ['input']], ON_OFF, 'off', {
        neutral: 'off',
      }),
      choice(['rush', [PICTURE, 'Input'], 'Rush', 'latency', ['input']], ON_OFF, 'off', {
        neutral: 'off',
        needs: [{ control: 'quick', is: ['on'] }],
      }),
      choice(['room-eye', HOUSE, 'Room eye', 'ambient-light', []], ON_OFF, 'on', { neutral: 'off' }),
      choice(['thrift', HOUSE, 'Thrift', 'power-saving', []], STRENGTH, 'low', { neutral: 'off' }),
    ],
  },
  primaries: [
    [0.676, 0.316],
    [0.272, 0.672],
    [0.151, 0.056],
  ],
  luminance: { low: 38, high: 640, bend: 1.35 },
  hdrPeak: 980,
  contrast: 4700,
  leak: [0.268, 0.262],
  exponents: [2.3, 2.24, 2.17],
  nominalExponent: 2.24,
  ripple: 0.05,
  crosstalk: 0.012,
  presets: { frost: [0.88, 1, 1.42], plain: [0.96, 1, 1.18], amber: [1, 1, 1.04] },
  tones: { lighter: 0.93, middle: 1, deeper: 1.08 },
  bends: { low: 0.12, high: 0.25 },
  saving: { low: 0.82, high: 0.6 },
  gamuts: { automatic: 'auto', open: 'native' },
  toneMapping: { fixed: 'roll-off', scene: 'dynamic' },
  zones: {
    low: { depth: 0.55, halo: 0.25, crush: 0 },
    middle: { depth: 0.8, halo: 0.45, crush: 0 },
    high: { depth: 0.95, halo: 0.7, crush: 0.2 },
  },
  perClick: {
    gain: 0.0041,
    cut: 0.0011,
    black: 0.004,
    white: 0.0011,
    level: 0.0016,
    amount: 0.006,
    saturation: 0.012,
  },
  latencyOptions: { quick: { on: { share: 0.5 } }, rush: { on: { share: 0.4, rates: [60] } } },
  modes: {
    studio: { latency: 88 },
    lounge: { white: [0.97, 1, 1.05], exponent: 0.97, latency: 92 },
    daylight: { white: [0.94, 1, 1.1], exponent: 0.92, saturation: 1.12, latency: 92 },
    arena: { white: [0.95, 1, 1.14], exponent: 0.9, saturation: 1.2, latency: 14 },
  },
  warmUp: { share: 0.05, seconds: 700, blue: 0.012 },
  spread: { channels: 0.018, luminance: 0.06, exponents: 0.02, primaries: 0.002 },
})

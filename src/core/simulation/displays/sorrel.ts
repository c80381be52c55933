import { SimulatedModel } from './model'
import { CHANNELS, choice, number, ON_OFF, PER_MODE, SIX } from './parts'

const IMAGE = 'Image'
const BASIC = [IMAGE, 'Basics']
const WHITE = [IMAGE, 'White']
const COLOUR = [IMAGE, 'Colour']
const CARE = ['Set', 'Panel']
const HDR_ONLY = [{ signal: ['pq' as const, 'hlg' as const] }]
/** Processing is locked while the quick mode is on. */
const NOT_QUICK = [{ control: 'quick', is: ['off'] }]
/** The ends close together, where panels of this kind go astray. */
const LEVELS = [2, ...Array.from({ length: 20 }, (_, i) => 5 * (i + 1)), 97]
  .sort((a, b) => a - b)
  .filter((l, i, all) => all.indexOf(l) === i)
const name = (word: string) => `${word[0]!.toUpperCase()}${word.slice(1)}`

/**
 * An invented self-emissive television: a slider for white in the place of presets, twenty-two levels, luminance that
 * falls with the lit share of the screen and with time, still pictures dimmed, three ways of tone mapping, a quick mode
 * that locks processing, a slider that lifts shadows.
 */
export const SORREL: SimulatedModel = SimulatedModel.parse({
  format: 'wexmar-simulated-display/1',
  sizeInch: 65,
  panelKind: 'self-emissive',
  sheet: {
    format: 'wexmar-control-sheet/2',
    maker: 'Hollin',
    model: 'Sorrel',
    controls: [
      choice(
        ['visual-check', [IMAGE], 'Look', 'picture-mode', ['signal', 'input']],
        { neutral: 'Neutral', evening: 'Evening', bright: 'Bright', match: 'Match', play: 'Play' },
        'bright',
      ),
      number(
        ['emission', BASIC, 'Emission', 'peak-luminance', PER_MODE],
        { min: 0, max: 100, comes: 100 },
        { inMode: { neutral: 60, evening: 45, play: 90 } },
      ),
      number(['white-end', BASIC, 'White end', 'white-level', PER_MODE], { min: 0, max: 100, comes: 85 }),
      number(['black-start', BASIC, 'Black start', 'black-level', PER_MODE], {
        min: 0,
        max: 100,
        comes: 50,
        neutral: 50,
      }),
      number(
        ['shadow', BASIC, 'Shadow sight', 'shadow-lift', PER_MODE],
        { min: 0, max: 15, comes: 0, neutral: 0 },
        { inMode: { play: 5 } },
      ),
      choice(
        ['greys', BASIC, 'Greys', 'tone-curve', PER_MODE],
        { g20: '2.0', g22: '2.2', g24: '2.4', room: 'Room' },
        'g22',
        { needs: [{ signal: ['sdr'] }] },
      ),
      choice(
        ['peaks', BASIC, 'Peaks', 'tone-mapping', PER_MODE],
        { exact: 'Exact', gentle: 'Gentle', lively: 'Lively' },
        'lively',
        { needs: [...HDR_ONLY, { metadata: ['static'] }] },
      ),
      choice(
        ['punch', BASIC, 'Punch', 'dynamic-contrast', PER_MODE],
        { off: 'Off', low: 'Low', high: 'High' },
        'off',
        { neutral: 'off', inMode: { bright: 'low', match: 'high' }, needs: NOT_QUICK },
      ),
      number(
        ['white-tint', WHITE, 'Tint of white', 'white-preset', PER_MODE],
        { min: -50, max: 50, comes: 0 },
        { inMode: { neutral: 30, evening: 38, match: -20 } },
      ),
      ...(['gain', 'cut'] as const).flatMap((role) =>
        CHANNELS.map((channel) =>
          number(
            [
              `${role}-${channel}`,
              [...WHITE, 'Two ends'],
              `${role === 'gain' ? 'Bright' : 'Dark'} ${channel}`,
              role,
              PER_MODE,
            ],
            { min: -50, max: 50, comes: 0, neutral: 0 },
            { channel },
          ),
        ),
      ),
      ...LEVELS.flatMap((level) =>
        CHANNELS.map((channel) =>
          number(
            [
              `white-${level}-${channel}`,
              [...WHITE, 'Twenty-two rungs', `Rung ${level}`],
              name(channel),
              'level-white',
              PER_MODE,
            ],
            { min: -50, max: 50, comes: 0, neutral: 0 },
            { channel, level: level / 100 },
          ),
        ),
      ),
      number(['amount', COLOUR, 'Amount', 'saturation', PER_MODE], {
        min: 0,
        max: 100,
        comes: 50,
        neutral: 50,
      }),
      number(['turn', COLOUR, 'Turn', 'hue', PER_MODE], { min: -50, max: 50, comes: 0, neutral: 0 }),
      choice(
        ['span', COLOUR, 'Span', 'gamut', PER_MODE],
        { automatic: 'Automatic', wide: 'Wide', whole: 'Whole panel' },
        'automatic',
        { inMode: { bright: 'wide', match: 'whole' } },
      ),
      ...SIX.flatMap((colour) =>
        (['hue', 'saturation', 'colour-luminance'] as const).map((role) =>
          number(
            [
              `${role}-${colour}`,
              [...COLOUR, 'Each colour', name(colour)],
              role === 'hue' ? 'Turn' : role === 'saturation' ? 'Amount' : 'Light',
              role,
              PER_MODE,
            ],
            { min: -30, max: 30, comes: 0, neutral: 0 },
            { colour },
          ),
        ),
      ),
      number(['edges', [IMAGE, 'Detail'], 'Edges', 'sharpness', PER_MODE], {
        min: 0,
        max: 50,
        comes: 10,
        neutral: 0,
      }),
      choice(
        ['glide', [IMAGE, 'Detail'], 'Glide', 'motion', PER_MODE],
        { off: 'Off', judder: 'Judder only', full: 'Full' },
        'full',
        { neutral: 'off', inMode: { neutral: 'off', play: 'off' }, needs: NOT_QUICK },
      ),
      choice(['quick', ['Set', 'Play'], 'Quick answer', 'latency', ['input']], ON_OFF, 'off', {
        neutral: 'off',
      }),
      choice(
        ['source-range', ['Set', 'Input'], 'Source range', 'range', ['input']],
        { automatic: 'Automatic', limited: 'Limited', full: 'Full' },
        'automatic',
      ),
      choice(['still-care', CARE, 'Still-picture care', 'panel-care', []], ON_OFF, 'on', { neutral: 'off' }),
      choice(
        ['saver', CARE, 'Saver', 'power-saving', []],
        { off: 'Off', mild: 'Mild', strong: 'Strong' },
        'mild',
        {
          neutral: 'off',
        },
      ),
      choice(['sensor', CARE, 'Light sensor', 'ambient-light', []], ON_OFF, 'off', { neutral: 'off' }),
    ],
  },
  primaries: [
    [0.684, 0.315],
    [0.252, 0.702],
    [0.144, 0.052],
  ],
  luminance: { low: 24, high: 310, bend: 1.2 },
  hdrPeak: 840,
  contrast: 2_000_000,
  leak: [0.31, 0.32],
  exponents: [2.19, 2.2, 2.24],
  nominalExponent: 2.2,
  ripple: 0.04,
  crosstalk: 0.02,
  tones: { g20: 0.93, g22: 1.02, g24: 1.07, room: 1.11 },
  bends: { low: 0.1, high: 0.22 },
  saving: { mild: 0.85, strong: 0.65 },
  gamuts: { automatic: 'auto', wide: 'p3', whole: 'native' },
  toneMapping: { exact: 'clip', gentle: 'roll-off', lively: 'dynamic' },
  powerLimit: [
    [0, 860],
    [0.02, 860],
    [0.1, 800],
    [0.25, 480],
    [0.5, 290],
    [1, 168],
  ],
  stillDimming: { after: 60, perMinute: 0.12, floor: 0.55 },
  perClick: {
    gain: 0.0032,
    cut: 0.0009,
    black: 0.0022,
    white: 0.0012,
    level: 0.0014,
    lift: 0.05,
    hue: 0.006,
    saturation: 0.012,
    colourLuminance: 0.006,
    warmth: 0.0042,
  },
  latencyOptions: { quick: { on: { share: 0.12 } } },
  modes: {
    neutral: { latency: 96, white: [1, 1, 1.12] },
    evening: { latency: 96, white: [1, 1, 1.12], exponent: 1.03 },
    bright: { latency: 101, white: [0.95, 1, 1.2], saturation: 1.1 },
    match: { latency: 101, white: [0.93, 1, 1.25], saturation: 1.22 },
    play: { latency: 10, white: [0.97, 1, 1.16] },
  },
  warmUp: { share: 0.03, seconds: 500, blue: 0.008 },
  spread: { channels: 0.014, luminance: 0.04, exponents: 0.015, primaries: 0.002 },
})

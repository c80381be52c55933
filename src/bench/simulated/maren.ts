import { type Channel, type Control, ControlSheet } from '#core/display'
import type { DisplaySpec } from './light-path'

const PICTURE = 'Picture'
const LIGHT = [PICTURE, 'Light']
const FINE = [PICTURE, 'Fine adjustment']
const TWO_POINT = [...FINE, 'White balance', 'Two-point']
const HOUSE = ['House', 'Saving']

const twoPoint = (role: 'gain' | 'cut', channel: Channel): Control => ({
  key: `${role}-${channel}`,
  path: TWO_POINT,
  label: `${role === 'gain' ? 'Gain' : 'Cut'}, ${channel}`,
  role,
  channel,
  memory: 'white-preset',
  kind: 'number',
  range: { min: -30, max: 30, step: 1 },
  default: 0,
  neutral: 0,
})

const choices = (pairs: Readonly<Record<string, string>>) =>
  Object.entries(pairs).map(([value, label]) => ({ value, label }))

const sheet = ControlSheet.parse({
  format: 'wexmar-control-sheet/1',
  maker: 'Ostrel',
  model: 'Maren',
  controls: [
    {
      key: 'scene',
      path: [PICTURE],
      label: 'Scene',
      role: 'picture-mode',
      memory: 'input',
      kind: 'choice',
      choices: choices({ studio: 'Studio', lounge: 'Lounge', daylight: 'Daylight', arena: 'Arena' }),
      default: 'daylight',
    },
    {
      key: 'panel-light',
      path: LIGHT,
      label: 'Depth',
      role: 'peak-luminance',
      memory: 'mode',
      caution:
        'Despite its name this is the light behind the panel. It leaves black and the tone curve alone.',
      kind: 'number',
      range: { min: 0, max: 100, step: 1 },
      default: 84,
    },
    {
      key: 'black-level',
      path: LIGHT,
      label: 'Luminosity',
      role: 'black-level',
      memory: 'mode',
      caution: 'Despite its name this moves black, not the light of the panel. Leave it at 0.',
      kind: 'number',
      range: { min: -10, max: 10, step: 1 },
      default: 0,
      neutral: 0,
    },
    {
      key: 'white-level',
      path: LIGHT,
      label: 'Crest',
      role: 'white-level',
      memory: 'mode',
      kind: 'number',
      range: { min: 0, max: 100, step: 1 },
      default: 90,
    },
    {
      key: 'curve-lift',
      path: LIGHT,
      label: 'Curve lift',
      role: 'dynamic-contrast',
      memory: 'mode',
      kind: 'choice',
      choices: choices({ off: 'Off', low: 'Low', high: 'High' }),
      default: 'low',
      neutral: 'off',
    },
    {
      key: 'curve',
      path: FINE,
      label: 'Curve',
      role: 'tone-curve',
      memory: 'mode',
      kind: 'choice',
      choices: choices({ lighter: 'Lighter', middle: 'Middle', deeper: 'Deeper' }),
      default: 'middle',
    },
    {
      key: 'warmth',
      path: FINE,
      label: 'Warmth',
      role: 'white-preset',
      memory: 'mode',
      kind: 'choice',
      choices: choices({ frost: 'Frost', plain: 'Plain', amber: 'Amber' }),
      default: 'plain',
    },
    twoPoint('gain', 'red'),
    twoPoint('gain', 'green'),
    twoPoint('gain', 'blue'),
    twoPoint('cut', 'red'),
    twoPoint('cut', 'green'),
    twoPoint('cut', 'blue'),
    {
      key: 'outline',
      path: FINE,
      label: 'Outline',
      role: 'sharpness',
      memory: 'mode',
      kind: 'number',
      range: { min: 0, max: 20, step: 1 },
      default: 8,
      neutral: 0,
    },
    {
      key: 'room-eye',
      path: HOUSE,
      label: 'Room eye',
      role: 'ambient-light',
      memory: 'display',
      kind: 'choice',
      choices: choices({ off: 'Off', on: 'On' }),
      default: 'on',
      neutral: 'off',
    },
    {
      key: 'thrift',
      path: HOUSE,
      label: 'Thrift',
      role: 'power-saving',
      memory: 'display',
      kind: 'choice',
      choices: choices({ off: 'Off', low: 'Low', high: 'High' }),
      default: 'low',
      neutral: 'off',
    },
  ],
})

/** An invented full-array LCD television: far too bright for a dark room, blue-heavy white, two labels that mislead. */
export const MAREN: DisplaySpec = {
  sheet,
  sizeInch: 55,
  panelKind: 'lcd-full-array',
  primaries: [
    [0.652, 0.329],
    [0.291, 0.634],
    [0.152, 0.052],
  ],
  luminance: { low: 38, high: 640, bend: 1.35 },
  contrast: 4700,
  leak: [0.268, 0.262],
  exponents: [2.3, 2.24, 2.17],
  ripple: 0.05,
  crosstalk: 0.012,
  presets: { frost: [0.88, 1, 1.42], plain: [0.96, 1, 1.18], amber: [1, 1, 1.04] },
  tones: { lighter: 0.93, middle: 1, deeper: 1.08 },
  perClick: { gain: 0.0041, cut: 0.0011, black: 0.004, white: 0.0011 },
  warmUp: { share: 0.05, seconds: 700 },
  spread: { channels: 0.018, luminance: 0.06, exponents: 0.02 },
}

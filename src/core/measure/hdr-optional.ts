import { multiply, pqEotf } from '#core/colorimetry'
import { eotfSweep, peakSweep, pqGrey, rampSweep, sceneSweep } from './hdr-sweeps'
import { type Patch, type SixColour, sixColour } from './patch'
import { P3_IN_BT2020, PATCHES, pqSignal, SIX_NAMES } from './patch-set'
import type { Sweep } from './sweep'
import {
  CHANNEL_LUMINANCES,
  HDR_COLOUR_LUMINANCES,
  HDR_SATURATIONS,
  HLG_SIGNALS,
  PQ_NEAR_BLACK,
  REFERENCE_WHITE,
} from './tuning'

type Triple = [number, number, number]

/** A colour of P3 written in BT.2020. In: which; its saturation, 0…1; luminance of the white that it is part of, cd/m². */
export const p3Colour = (name: SixColour, saturation: number, white: number): Patch => {
  const linear = sixColour(name).signal.map((s) => white * (s === 1 ? 1 : 1 - saturation)) as Triple
  const percent = Math.round(100 * saturation)
  return {
    key: `pq-p3-${name}-${percent}-at-${white}`,
    label: `P3 ${name} ${percent} %, white ${white} cd/m²`,
    signal: multiply(P3_IN_BT2020, linear).map(pqSignal) as Triple,
  }
}

/** Memory colours with a white of another luminance than the reference. In: luminance of white, cd/m². */
const memoryColoursAt = (white: number): Patch[] =>
  PATCHES.pq.memoryColours.map((p) => ({
    key: `${p.key}-at-${white}`,
    label: `${p.label}, white ${white} cd/m²`,
    signal: p.signal.map((s) => pqSignal((pqEotf(s) * white) / REFERENCE_WHITE)) as Triple,
  }))

const CHANNELS_ALONE = ['red', 'green', 'blue'] as const
export type ChannelAlone = (typeof CHANNELS_ALONE)[number]

/** A channel of BT.2020 alone. In: which; luminance that its signal would mean in white, cd/m². */
export const channelAt = (channel: ChannelAlone, luminance: number): Patch => {
  const s = pqSignal(luminance)
  return {
    key: `pq-channel-${channel}-${luminance}`,
    label: `${channel[0]!.toUpperCase()}${channel.slice(1)}, white ${luminance.toLocaleString('en-GB')} cd/m²`,
    signal: CHANNELS_ALONE.map((c) => (c === channel ? s : 0)) as Triple,
    level: null,
    timing: { dark: 0, stands: 2 },
  }
}

/** A grey of HLG. In: signal, 0…1. */
export const hlgGrey = (signal: number): Patch => ({
  key: `hlg-signal-${Math.round(100 * signal)}`,
  label: `HLG ${Math.round(100 * signal)} %`,
  signal: [signal, signal, signal],
  level: null,
  transfer: 'hlg',
  ...(signal > 0.8 ? { timing: { dark: 2, stands: 2 } } : {}),
})

/** Sweeps of HDR that a reviewer can ask for, beside what a case reads by itself. */
export const HDR_SWEEPS: readonly Sweep[] = [
  {
    key: 'pq-grey',
    title: 'PQ greys',
    tells: 'EOTF tracking from 0.005 to 10,000 cd/m², the knee and where detail ends.',
    patches: eotfSweep(),
  },
  {
    key: 'pq-near-black',
    title: 'PQ near black',
    tells: 'Whether shadows from 0.005 to 1 cd/m² are lifted, crushed or right.',
    patches: PQ_NEAR_BLACK.map(pqGrey),
  },
  {
    key: 'pq-peak',
    title: 'Peak by window',
    tells: 'The peak in eight windows, in its first second and after a minute. Bright: do not look into it.',
    patches: peakSweep(),
  },
  {
    key: 'pq-scenes',
    title: 'Scenes',
    tells: 'Whether tone mapping follows the scene: greys alone and beside a highlight.',
    patches: sceneSweep(),
  },
  {
    key: 'pq-ramps',
    title: 'Scenes with a ramp',
    tells:
      'Whether tone mapping goes by how much of the picture is bright: greys alone and above a ramp of all levels.',
    patches: rampSweep(),
  },
  {
    key: 'pq-saturation',
    title: 'P3 saturations at two luminances',
    tells: 'Whether colours of P3 keep their hue and strength, in the dark and in the light.',
    patches: HDR_COLOUR_LUMINANCES.flatMap((white) =>
      SIX_NAMES.flatMap((name) => HDR_SATURATIONS.map((s) => p3Colour(name, s, white))),
    ),
  },
  {
    key: 'pq-natural',
    title: 'Memory colours at two luminances',
    tells: 'Skin, foliage, sky and other things as they look in a dark and in a light scene.',
    patches: HDR_COLOUR_LUMINANCES.flatMap(memoryColoursAt),
  },
  {
    key: 'pq-channels',
    title: 'End of detail in each channel',
    tells:
      'Up to which luminance steps of red, green and blue alone still differ: bright colours lose detail before greys do.',
    patches: CHANNELS_ALONE.flatMap((channel) => CHANNEL_LUMINANCES.map((l) => channelAt(channel, l))),
  },
  {
    key: 'hlg-grey',
    title: 'HLG greys',
    tells: 'Whether HLG follows BT.2100 with the system gamma of this display’s own peak.',
    patches: HLG_SIGNALS.map(hlgGrey),
  },
  {
    key: 'pq-stability',
    title: 'Stability',
    tells: 'How luminance holds while a grey of 203 cd/m² stands still.',
    patches: Array.from({ length: 12 }, (_, i) => {
      const { signal, level } = pqGrey(REFERENCE_WHITE)
      return { signal, level, key: `pq-still-${i + 1}`, label: `Still ${i + 1}` }
    }),
  },
]

import { describe, expect, it } from 'vitest'
import { ROLE_TERM, type Role } from '#core/display'
import { proposeDoes } from './propose'
import { emptyRow } from './row'

/** Labels in the trade's words, none of any maker, by what they are to be taken for. */
const LABELS: Readonly<Partial<Record<Role, string>>> = {
  'picture-mode':
    'Picture mode, Image mode, Display mode, Picture preset, Viewing mode, Picture style, Mode, Preset, Screen mode',
  'auto-mode':
    'Automatic picture mode, Auto mode switching, Automatic film mode, Mode by content, Switch mode by source, Automatic game mode, Film mode auto start, Automatic scene selection, Cinema mode automatic start, Auto genre, Movie detection, Picture mode switching',
  aspect: 'Aspect ratio, Picture size, Overscan, Zoom, Pixel for pixel, Image shape, 1:1 display',
  'variable-refresh': 'Variable refresh rate, Variable refresh, Adaptive sync, Variable frame rate',
  'input-label': 'Input label, Input name, Input icon, Device type, Rename input, Source name',
  'socket-format':
    'Signal format, Input signal format, Deep colour, Socket format, Full bandwidth, Link rate, Deep color',
  'content-detection':
    'Content detection, Content recognition, Scene detection, Content type, Object recognition, Face detection, Content optimisation, Genre detection, Scene analysis',
  'eye-comfort':
    'Eye comfort, Eye care, Blue light reduction, Low blue light, Night light, Night shift, Evening warmth, Reading mode, Eye saver, Reduced blue light, Eye protection',
  'forced-signal':
    'Input colour space, HDR mode, HDR, Signal type, Force HDR, SDR to HDR, Input color gamut, Dynamic range kind, Source primaries, HDR input, Input signal EOTF, Kind of signal, Automatic HDR mode, Signal colorimetry',
  'still-dimming':
    'Logo dimming, Logo luminance, Still picture dimming, Static image dimming, Logo brightness, Idle dimming, Dimming of still pictures, Dim logos, Static brightness adjustment, Inactivity dimming',
  'global-dimming':
    'Global dimming, Whole-screen dimming, Whole screen dimming, Frame dimming, Picture dimming, Scene dimming, Brightness limiter, Luminance limit, Dimming of the whole screen, Full-screen dimming',
  'colour-enhancement':
    'Dynamic colour, Colour enhancement, Colour booster, Skin tone, Active color, Colour expansion, Color enhancer, Flesh tone, Adaptive colour, Skin tones',
  'resolution-enhancement':
    'Super resolution, Super-resolution, Resolution enhancement, Upscaling, Detail creation, Detail enhancement, Texture restoration, Resolution, Detail boost',
  'response-acceleration':
    'Overdrive, Response time, Response, Over drive, Pixel response, Response acceleration',
  'black-frames':
    'Black frame insertion, Strobing, Backlight strobing, Black frames, Backlight scanning, Frame insertion, Strobe',
  iris: 'Iris, Dynamic iris, Auto iris, Aperture, Dynamic lamp, Adaptive laser, Automatic light source, Iris mode',
  'ambient-light':
    'Ambient light sensor, Light sensor, Room light, Ambient light, Automatic brightness, Adaptive brightness, Auto brightness, Brightness by room',
  'tone-mapping': 'Tone mapping, HDR tone mapping, Dynamic tone mapping, Tone mapper, HDR tone-mapping',
  dimming: 'Local dimming, Zone dimming, Edge dimming, Local backlight, Dimming, Local zones',
  'power-saving': 'Power saving, Energy saving, Eco, Economy, Power save, Energy saver, Eco picture',
  'panel-care':
    'Panel care, Screen protection, Pixel shift, Screen saver, Pixel refresh, Burn-in protection, Image retention, Pixel orbit',
  'dynamic-contrast':
    'Dynamic contrast, Active contrast, Adaptive contrast, Auto contrast, Dynamic gamma, Automatic contrast',
  'peak-luminance':
    'Luminance, Backlight, Panel light, Lamp, Peak luminance, Laser power, Light output, Light source',
  'tone-curve': 'Gamma, EOTF, Tone curve, Gamma curve, Gamma correction',
  'white-preset': 'Colour temperature, Color temp, White point, Colour temp., Warmth',
  gamut: 'Colour gamut, Color space, Gamut, Colour space, Primaries, Color gamut, Colour range',
  hue: 'Tint, Hue, Tint (G/M)',
  saturation: 'Saturation, Colour intensity, Color saturation',
  sharpness: 'Sharpness, Edge enhancement, Clarity, Outline, Fine detail',
  'noise-reduction':
    'Noise reduction, Digital noise reduction, Compression noise, Grain, Smooth gradation, Banding, Block noise, Deblocking, Mosquito noise',
  motion:
    'Motion interpolation, Motion smoothing, Judder reduction, Blur reduction, De-judder, De-blur, Film cadence, Frame interpolation, Motion, Cinema motion',
  latency:
    'Low latency, Game optimisation, Automatic low latency mode, Instant response mode, Low latency mode, Input lag',
  range: 'Signal range, RGB range, Video level, Video range, RGB level, Quantisation',
  sound: 'Sound, Volume, Audio output, Speakers, Treble, Bass',
  copy: 'Copy settings, Apply to all inputs, Copy to all sources, Apply to other modes, All inputs',
  other: 'Language, Sleep timer, Network, Reset, Subtitles, Captions',
}

describe('labels in the trade’s words', () => {
  const all = Object.entries(LABELS).flatMap(([role, labels]) =>
    labels.split(', ').map((label) => [label, role as Role] as const),
  )
  it(`are more than two hundred`, () => expect(all.length).toBeGreaterThan(200))
  it.each(all)('“%s” is taken for %s', (label, role) => {
    expect(proposeDoes({ ...emptyRow('r1'), label, values: 'Off, On' }, []).does).toBe(ROLE_TERM[role])
  })
  it.each(['Local contrast', 'Micro contrast', 'Brightness', 'Black', 'Wombat', 'Colour'])(
    '“%s” is taken for nothing before a person looked',
    (label) => {
      expect(proposeDoes({ ...emptyRow('r1'), label, values: '0 to 100' }, []).does).toBeUndefined()
    },
  )
})

import { z } from 'zod'

/** What a control of a role is, in one place: a new role is one entry. */
export interface RoleEntry {
  /** The trade's own term, whatever the maker's label says. */
  readonly term: string
  /** What it does, in words a reader understands. */
  readonly means: string
  /** Labels that say what they mean. The roles' words are looked for in turn, the lowest first: what is special comes before what is general. */
  readonly words?: { readonly turn: number; readonly pattern: RegExp }
  /** What has to be told of such a control besides. */
  readonly told?: ReadonlyArray<'channel' | 'colour' | 'level'>
  /** It may be for one colour. */
  readonly ofColour?: true
  /**
   * How it stands while it is measured, as it is set where nothing is said. `automatic`: at neutral, since it changes the picture by itself. `neutral`: at
   * neutral, since it makes light and shadow depend on the rest of the picture, or dims every patch.
   */
  readonly measuring?: 'automatic' | 'neutral'
  /** It stands at neutral while the display is watched, unless a person or the policy wants it otherwise. */
  readonly watching?: 'neutral'
  /** The value at which it does nothing is told by its values. */
  readonly hasNeutral?: true
  /** Key of the step that deals with it. */
  readonly step: string
  /** A meter tells its value. */
  readonly metered?: true
  /** What copying a value to another unit is worth, where copying was not simulated; and with which block it is simulated. */
  readonly transfer: 'copy' | 'start-here' | 'this-unit-only'
  readonly copied?: 'two-point' | 'levels' | 'colour'
  /** How much a change of it does to the picture, against the others; nothing where a reader in a hurry leaves it. */
  readonly weight?: number
  /** Cases in which each of its values is tried, with what it costs. */
  readonly tried?: 'games' | 'desktop'
  /** It flickers, which can hurt photosensitive people: said before it is tried. */
  readonly flickers?: true
}

const ENTRIES = {
  'picture-mode': {
    term: 'Picture mode',
    means: 'chooses the picture mode',
    words: {
      turn: 1,
      pattern: /(picture|image|screen|viewing|display) ?(mode|style|preset)|^(mode|preset)$/i,
    },
    step: 'prepare',
    transfer: 'copy',
    weight: 100,
  },
  'peak-luminance': {
    term: 'Luminance of the panel',
    means: 'sets how much light the panel gives',
    words: { turn: 12, pattern: /luminance|back ?light|panel light|light output|lamp|peak|laser/i },
    step: 'luminance',
    metered: true,
    transfer: 'start-here',
    weight: 90,
  },
  'white-level': {
    term: 'White level (contrast)',
    means: 'sets the level at which highlights clip',
    step: 'white-level',
    metered: true,
    transfer: 'start-here',
    weight: 38,
  },
  'black-level': {
    term: 'Black level (brightness)',
    means: 'sets the level at which shadows clip',
    hasNeutral: true,
    step: 'black-level',
    metered: true,
    transfer: 'start-here',
    weight: 50,
  },
  'tone-curve': {
    term: 'Gamma',
    means: 'sets gamma: how bright mid-tones are',
    words: { turn: 13, pattern: /gamma|eotf|tone ?curve/i },
    step: 'tone',
    transfer: 'copy',
    weight: 80,
  },
  'white-preset': {
    term: 'Colour temperature preset',
    means: 'chooses the white point',
    words: { turn: 14, pattern: /(colou?r )?temp|white ?point|warm/i },
    step: 'white',
    transfer: 'copy',
    weight: 85,
  },
  gain: {
    term: 'White balance gain',
    means: 'changes one channel, mostly in bright greys',
    told: ['channel'],
    hasNeutral: true,
    step: 'white',
    metered: true,
    transfer: 'start-here',
    copied: 'two-point',
    weight: 20,
  },
  cut: {
    term: 'White balance cut',
    means: 'changes one channel, mostly in dark greys',
    told: ['channel'],
    hasNeutral: true,
    step: 'white',
    metered: true,
    transfer: 'start-here',
    copied: 'two-point',
  },
  'level-white': {
    term: 'Multi-point white balance',
    means: 'changes one channel at one grey level',
    told: ['channel', 'level'],
    hasNeutral: true,
    step: 'level-white',
    metered: true,
    transfer: 'this-unit-only',
    copied: 'levels',
  },
  'level-tone': {
    term: 'Multi-point gamma',
    means: 'changes the luminance of one grey level',
    told: ['level'],
    hasNeutral: true,
    step: 'level-white',
    metered: true,
    transfer: 'this-unit-only',
  },
  hue: {
    term: 'Hue',
    means: 'turns a colour towards its neighbours',
    words: { turn: 16, pattern: /tint|\bhue\b/i },
    ofColour: true,
    hasNeutral: true,
    step: 'colour',
    transfer: 'this-unit-only',
    copied: 'colour',
  },
  saturation: {
    term: 'Saturation',
    means: 'sets how strong a colour is',
    words: { turn: 17, pattern: /saturation|colou?r intensity/i },
    ofColour: true,
    hasNeutral: true,
    step: 'colour',
    transfer: 'this-unit-only',
    copied: 'colour',
    weight: 15,
  },
  'colour-luminance': {
    term: 'Colour luminance',
    means: 'sets how bright a colour is',
    ofColour: true,
    hasNeutral: true,
    step: 'colour',
    metered: true,
    transfer: 'this-unit-only',
    copied: 'colour',
  },
  'colour-amount': {
    term: 'Channel of a colour',
    means: 'sets how much of one channel is in a colour',
    told: ['colour', 'channel'],
    ofColour: true,
    hasNeutral: true,
    step: 'colour',
    metered: true,
    transfer: 'this-unit-only',
    copied: 'colour',
  },
  'shadow-lift': {
    term: 'Shadow lift',
    means: 'makes shadows lighter',
    measuring: 'neutral',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    tried: 'games',
  },
  'highlight-lift': {
    term: 'Highlight lift',
    means: 'makes highlights brighter, or keeps detail in them',
    measuring: 'neutral',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    tried: 'games',
  },
  sharpness: {
    term: 'Sharpness',
    means: 'adds outlines to edges',
    words: { turn: 18, pattern: /sharp|edge|outline|clarity|detail|resolution/i },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 55,
  },
  'noise-reduction': {
    term: 'Noise reduction',
    means: 'smooths noise, and detail with it',
    words: { turn: 19, pattern: /noise|grain|compression|artefact|artifact|smooth gradation|banding/i },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 45,
  },
  motion: {
    term: 'Motion interpolation',
    means: 'adds frames between frames',
    words: { turn: 21, pattern: /motion|judder|blur|film|cinema|interpol|frame/i },
    watching: 'neutral',
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 60,
    tried: 'games',
    flickers: true,
  },
  'black-frames': {
    term: 'Black frame insertion',
    means: 'darkens the screen between frames, for sharper motion',
    words: { turn: 20, pattern: /black frame|strobe|strobing|frame insertion/i },
    // Its flicker dims every patch.
    measuring: 'neutral',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    tried: 'games',
    flickers: true,
  },
  dimming: {
    term: 'Local dimming',
    means: 'dims zones of the panel',
    words: { turn: 7, pattern: /local|dimming|zone/i },
    measuring: 'neutral',
    step: 'processing',
    transfer: 'copy',
    weight: 40,
  },
  'dynamic-contrast': {
    term: 'Dynamic contrast',
    means: 'changes gamma with the picture',
    words: { turn: 6, pattern: /dynamic (contrast|range|gamma)|adaptive|contrast/i },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 70,
  },
  'ambient-light': {
    term: 'Ambient light sensor',
    means: 'changes the picture with the light in the room',
    words: { turn: 8, pattern: /ambient|sensor|room light/i },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 75,
  },
  'tone-mapping': {
    term: 'HDR tone mapping',
    means: 'fits HDR highlights to the panel',
    words: { turn: 11, pattern: /tone ?mapping|\bhdr\b/i },
    step: 'prepare',
    transfer: 'copy',
    weight: 82,
  },
  range: {
    term: 'Signal range',
    means: 'sets which code values are black and white',
    words: { turn: 23, pattern: /range|video level|rgb level/i },
    step: 'prepare',
    transfer: 'copy',
    weight: 68,
  },
  gamut: {
    term: 'Colour gamut',
    means: 'chooses how far colours reach',
    words: { turn: 15, pattern: /colou?r (space|gamut)|gamut|primaries/i },
    step: 'gamut',
    transfer: 'copy',
    weight: 65,
  },
  latency: {
    term: 'Low latency',
    means: 'shortens the delay, and drops processing',
    words: { turn: 22, pattern: /low latency|game|instant|lag/i },
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 36,
  },
  'power-saving': {
    term: 'Power saving',
    means: 'dims the picture to save power',
    words: { turn: 9, pattern: /sav(e|ing)|\beco\b|energy|economy/i },
    measuring: 'automatic',
    watching: 'neutral',
    step: 'prepare',
    transfer: 'copy',
    weight: 74,
  },
  'panel-care': {
    term: 'Panel care',
    means: 'protects the panel from still pictures',
    // It dims still pictures, and every patch is one.
    words: { turn: 10, pattern: /panel care|screen (saver|protect)|pixel|logo|burn/i },
    measuring: 'automatic',
    step: 'prepare',
    transfer: 'copy',
    tried: 'desktop',
  },
  sound: {
    term: 'Sound',
    means: 'sound',
    words: { turn: 24, pattern: /sound|volume|audio|speaker/i },
    step: 'prepare',
    transfer: 'copy',
  },
  'variable-refresh': {
    term: 'Variable refresh rate',
    means: 'lets the display follow the frame rate of a game',
    words: { turn: 3, pattern: /variable refresh/i },
    step: 'prepare',
    transfer: 'copy',
  },
  'input-label': {
    term: 'Label of the input',
    means: 'says what is connected to the input',
    words: { turn: 4, pattern: /input (label|name|icon)|device type/i },
    step: 'prepare',
    transfer: 'copy',
  },
  'socket-format': {
    term: 'Format of the socket',
    means: 'unlocks the full link rate of a socket',
    words: { turn: 5, pattern: /(signal|input|socket) format|deep colou?r/i },
    step: 'prepare',
    transfer: 'copy',
  },
  aspect: {
    term: 'Picture size',
    means: 'sets how the picture fills the screen',
    words: { turn: 2, pattern: /aspect|picture size|over ?scan|zoom|pixel for pixel/i },
    step: 'prepare',
    transfer: 'copy',
  },
  copy: {
    term: 'Copy settings to other inputs',
    means: 'copies values to other inputs or sources',
    words: { turn: 25, pattern: /copy|apply to (all|other)|all inputs/i },
    step: 'prepare',
    transfer: 'copy',
  },
  other: {
    term: 'Something else',
    means: 'leaves the picture alone',
    words: { turn: 26, pattern: /language|timer|network|reset/i },
    step: 'prepare',
    transfer: 'copy',
  },
} as const satisfies Readonly<Record<string, RoleEntry>>

export type Role = keyof typeof ENTRIES

/** Everything that is known of each role. */
export const ROLES: Readonly<Record<Role, RoleEntry>> = ENTRIES

/** What a control does, whatever its label says. */
export const Role = z.enum(Object.keys(ENTRIES) as [Role, ...Role[]])

/** Roles of which something holds. */
export const rolesWhere = (holds: (entry: RoleEntry) => boolean): ReadonlySet<Role> =>
  new Set(Role.options.filter((role) => holds(ROLES[role])))

const byRole = <T>(of: (entry: RoleEntry) => T) =>
  Object.fromEntries(Role.options.map((role) => [role, of(ROLES[role])])) as Readonly<Record<Role, T>>

/** The trade's own term for a role. */
export const ROLE_TERM = byRole((r) => r.term)

/** What a role means, in words a reader understands. */
export const ROLE_MEANING = byRole((r) => r.means)

/** Roles that change the picture by themselves. */
export const AUTOMATIC_PROCESSING = rolesWhere((r) => r.measuring === 'automatic')

/** Roles that stand at neutral while it is measured. Some come back on for watching. */
export const MEASURED_AT_NEUTRAL = rolesWhere((r) => r.measuring !== undefined)

/** Roles whose controls come by the dozen: levels and colours. */
export const BY_THE_DOZEN = rolesWhere((r) => r.ofColour === true || r.told?.includes('level') === true)

import type { RoleEntries } from './role-entry'

/** Roles of the way to the display, and of what is no picture at all. */
export const MENU_ROLES = {
  latency: {
    term: 'Low latency',
    means: 'shortens the delay, and drops processing',
    words: { turn: 34, pattern: /latency|game|instant|\blag\b/i },
    hasNeutral: true,
    step: 'processing',
    transfer: 'copy',
    weight: 36,
  },
  sound: {
    term: 'Sound',
    means: 'sound',
    words: { turn: 36, pattern: /sound|volume|audio|speaker|treble|bass/i },
    step: 'prepare',
    transfer: 'copy',
  },
  'variable-refresh': {
    term: 'Variable refresh rate',
    means: 'lets the display follow the frame rate of a game',
    words: { turn: 4, pattern: /(variable|adaptive) (refresh|sync|frame rate)/i },
    step: 'prepare',
    transfer: 'copy',
  },
  'input-label': {
    term: 'Label of the input',
    means: 'says what is connected to the input',
    words: { turn: 5, pattern: /(input|socket|source) (label|name|icon)|device type|rename (input|source)/i },
    step: 'prepare',
    transfer: 'copy',
  },
  'socket-format': {
    term: 'Format of the socket',
    means: 'unlocks the full link rate of a socket',
    words: {
      turn: 6,
      pattern:
        /(signal|input|socket|link) (format|bandwidth|version|rate)|deep colou?r|full (link|bandwidth)/i,
    },
    step: 'prepare',
    transfer: 'copy',
  },
  aspect: {
    term: 'Picture size',
    means: 'sets how the picture fills the screen',
    words: {
      turn: 3,
      pattern: /aspect|(picture|image|screen) (size|shape|fit)|over ?scan|zoom|pixel for pixel|\b1:1\b/i,
    },
    step: 'prepare',
    transfer: 'copy',
  },
  copy: {
    term: 'Copy settings to other inputs',
    means: 'copies values to other inputs or sources',
    words: { turn: 37, pattern: /copy|apply to (all|other)|all (inputs|sources)/i },
    step: 'prepare',
    transfer: 'copy',
  },
  other: {
    term: 'Something else',
    means: 'does something that Wexmar does not judge',
    words: { turn: 38, pattern: /language|timer|network|reset|caption|subtitle/i },
    step: 'prepare',
    transfer: 'copy',
  },
} as const satisfies RoleEntries

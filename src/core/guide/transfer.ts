import type { Role } from '#core/display'
import type { TransferClass } from './case-document'

const START_HERE: ReadonlySet<Role> = new Set<Role>([
  'peak-luminance',
  'black-level',
  'white-level',
  'gain',
  'cut',
])
const THIS_UNIT_ONLY: ReadonlySet<Role> = new Set<Role>([
  'level-white',
  'level-tone',
  'hue',
  'saturation',
  'colour-luminance',
  'colour-amount',
])

/** What copying a value of a role to another unit is worth: switches travel, fine white does not. */
export const transferClassOf = (role: Role): TransferClass =>
  THIS_UNIT_ONLY.has(role) ? 'this-unit-only' : START_HERE.has(role) ? 'start-here' : 'copy'

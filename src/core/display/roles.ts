import { z } from 'zod'
import { MENU_ROLES } from './menu-roles'
import { PICTURE_ROLES } from './picture-roles'
import { PROCESSING_ROLES } from './processing-roles'
import type { RoleEntry } from './role-entry'

const ENTRIES = { ...PICTURE_ROLES, ...PROCESSING_ROLES, ...MENU_ROLES }

export type Role = keyof typeof ENTRIES

/** Everything that is known of each role. */
export const ROLES: Readonly<Record<Role, RoleEntry>> = ENTRIES

/** What a control does, whatever its label says. */
export const Role = z.enum(Object.keys(ENTRIES) as [Role, ...Role[]])

/** Words below this turn name their role whole, whatever else stands in the label. */
export const NAMED_WHOLE = 20

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

/** Roles that dim light with the picture in strengths, each of which is measured. */
export const STRENGTHS = rolesWhere((r) => r.measuring === 'neutral' && r.step === 'processing')

/** Roles whose controls come by the dozen: levels and colours. */
export const BY_THE_DOZEN = rolesWhere((r) => r.ofColour === true || r.told?.includes('level') === true)

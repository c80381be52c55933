import { ROLES, type Role } from '#core/display'
import type { CaseDocument, GuideCopying, TransferClass } from './case-document'

/** Share of units that a block has to make better, and mean ΔE00 that it has to gain, for its values to be a place to start from. */
const WORTH_COPYING = { better: 0.75, gain: 0.2 } as const

/**
 * What copying a value of a role to another unit is worth: switches travel, fine white does not. Where copying was simulated, that decides. In: role; what
 * copying does.
 */
export const transferClassOf = (role: Role, copying: readonly GuideCopying[] = []): TransferClass => {
  const simulated = copying.find((c) => c.block === ROLES[role].copied)
  if (simulated)
    return simulated.better >= WORTH_COPYING.better &&
      simulated.alone - simulated.copied >= WORTH_COPYING.gain
      ? 'start-here'
      : 'this-unit-only'
  return ROLES[role].transfer
}

const BLOCK_NAME: Readonly<Record<GuideCopying['block'], string>> = {
  'two-point': 'Two-point white',
  levels: 'Single levels',
  colour: 'Colour management',
}

/** What copying does, in a sentence. */
export const sayCopying = ({ block, units, better, worse, alone, copied }: GuideCopying): string => {
  const percent = (share: number) => `${Math.round(100 * share)} %`
  return `${BLOCK_NAME[block]}, copied to ${units.toLocaleString('en-GB')} simulated units: better on ${percent(better)}, worse on ${percent(worse)}; ${block === 'colour' ? 'colours' : 'greyscale'} ΔE00 ${alone.toFixed(1)} left alone, ${copied.toFixed(1)} copied.`
}

/** How units were taken to differ, in a sentence; undefined where nothing was simulated. */
export const saySpread = ({
  copying,
  copyingSpread,
}: Pick<CaseDocument, 'copying' | 'copyingSpread'>): string | undefined => {
  if (!copying?.length) return undefined
  const { channels, units } = copyingSpread ?? { channels: 0.02, units: 1 }
  return units > 1
    ? `Units are taken to differ by ${(100 * channels).toFixed(1)} % in each channel: from ${units} units measured here and a stated 2 %.`
    : 'Units are assumed to differ by 2 % in each channel: a stated figure, not a measured one.'
}

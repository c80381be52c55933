import type { GuideMeasure } from './case-document'

/** Levels that the average of greys is taken over, from 10 % on: those that charts of a guide show. What lies below was read by some guides only. */
export const chartLevels = ({ levels }: GuideMeasure): GuideMeasure['levels'] =>
  levels.filter((l) => l.level >= 0.099)

/** Size of the picture that stands beside links to a guide, pixels. */
export const CARD = { width: 1200, height: 630 } as const

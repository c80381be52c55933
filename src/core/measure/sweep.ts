import { BLUE, GREEN, grey, type Patch, RED } from './patch'

/** Grey levels of a sweep in percent, from white down, so that the dark ones come when the room has settled. */
export const GREY_LEVELS = [100, 90, 80, 70, 60, 50, 40, 30, 20, 10, 0] as const

/** Levels over which the white error of a grey scale is averaged: 10 to 100 %, as 0…1, rising. */
export const JUDGED_LEVELS: readonly number[] = GREY_LEVELS.filter((p) => p > 0)
  .map((p) => p / 100)
  .reverse()

/** Eleven grey levels and the three primaries: what a state is judged by. */
export const GREY_AND_PRIMARIES: readonly Patch[] = [...GREY_LEVELS.map(grey), RED, GREEN, BLUE]

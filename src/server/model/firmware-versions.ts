const compared = (a: string, b: string): number => a.localeCompare(b, 'en', { numeric: true })

/** Whether a firmware version is newer than another, by their numbers. */
export const isNewer = (version: string, than: string): boolean => compared(version, than) > 0

/** The newest of some firmware versions, by their numbers; empty where there are none. */
export const newestVersion = (versions: readonly string[]): string => versions.toSorted(compared).at(-1) ?? ''

/** Firmware versions by their numbers, the newest first. */
export const newestFirst = (versions: readonly string[]): string[] =>
  versions.toSorted((a, b) => compared(b, a))

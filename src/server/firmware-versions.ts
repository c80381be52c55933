/** The newest of some firmware versions, by their numbers; empty where there are none. */
export const newestVersion = (versions: readonly string[]): string =>
  versions.toSorted((a, b) => a.localeCompare(b, 'en', { numeric: true })).at(-1) ?? ''

import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { type BackupSummary, backUp } from '#db'
import { isFull } from './memory-file'

/** Why a backup was made by itself. Of each kind so many are kept, the newest. */
const KEPT = { daily: 7, 'before-upgrade': 3, 'before-reset': 3, 'before-restore': 3 } as const
type BackupKind = keyof typeof KEPT
const DAY_MS = 24 * 3600 * 1000
const ENDING = '.wexmar-backup'

const backupFolder = (data: string): string => join(data, 'backups')

export const version = (root: string): string =>
  (JSON.parse(readFileSync(join(root, 'package.json'), 'utf8')) as { version: string }).version

/** Backups of a kind, the newest first. */
const backupsOf = (data: string, kind: BackupKind): string[] =>
  existsSync(backupFolder(data))
    ? readdirSync(backupFolder(data))
        .filter((name) => name.startsWith(`${kind}-`) && name.endsWith(ENDING))
        .sort()
        .reverse()
        .map((name) => join(backupFolder(data), name))
    : []

/** Whether the newest daily backup is a day old, or there is none. A clock that was set back makes one more, never none. */
export const isDailyDue = (data: string, now: number): boolean => {
  const [newest] = backupsOf(data, 'daily')
  const age = newest === undefined ? Number.POSITIVE_INFINITY : now - statSync(newest).mtimeMs
  return age > DAY_MS || age < -DAY_MS
}

/**
 * Makes a backup in the data folder and removes the oldest of its kind. In: data folder, address of the database, kind, version of
 * Wexmar, time. Out: file and what it holds. Errors: throws a sentence; what was there is kept.
 */
export const keepBackup = async (
  data: string,
  url: string,
  kind: BackupKind,
  of: string,
  now: Date,
): Promise<{ file: string; summary: BackupSummary }> => {
  const folder = backupFolder(data)
  const stamp = now
    .toISOString()
    .replaceAll(':', '')
    .replace(/\.\d+Z$/, 'Z')
  const file = join(folder, `${kind}-${stamp}${ENDING}`)
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const summary = await backUp(url, file, of)
    for (const old of backupsOf(data, kind).slice(KEPT[kind])) rmSync(old, { force: true })
    return { file, summary }
  } catch (error) {
    throw isFull(error)
      ? new Error(
          `The disk is full: no backup could be made in ${folder}. Make room there, then try again.`,
          {
            cause: error,
          },
        )
      : error
  }
}

import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs'
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

interface Kept {
  readonly file: string
  /** When it was made, ms since 1970, by the clock of then. */
  readonly at: number
}

/** Time that a backup carries in its name; undefined where it carries none. */
const timeIn = (name: string): number | undefined => {
  const found = /-(\d{4}-\d\d-\d\dT\d\d)(\d\d)(\d\d)Z/.exec(name)
  return found ? Date.parse(`${found[1]}:${found[2]}:${found[3]}Z`) : undefined
}

/**
 * Backups of a kind, the newest first. One that carries a time to come was made by a clock that was ahead, so before all that have been made since
 * that clock was set right: it stands behind them.
 */
const backupsOf = (data: string, kind: BackupKind, now: number): Kept[] => {
  if (!existsSync(backupFolder(data))) return []
  const all = readdirSync(backupFolder(data)).flatMap((name) => {
    const at =
      name.startsWith(`${kind}-`) && name.endsWith(ENDING) ? timeIn(name.slice(kind.length)) : undefined
    return at === undefined ? [] : [{ file: join(backupFolder(data), name), at }]
  })
  const ahead = (k: Kept) => (k.at > now ? 1 : 0)
  return all.sort((a, b) => ahead(a) - ahead(b) || b.at - a.at || (a.file < b.file ? 1 : -1))
}

/** Whether no daily backup was made within a day before now. A clock that was set back makes one more, never none. */
export const isDailyDue = (data: string, now: number): boolean =>
  !backupsOf(data, 'daily', now).some(({ at }) => at <= now && now - at <= DAY_MS)

/** A name that no file has yet: two backups of one second are two. */
const freeName = (folder: string, name: string): string => {
  for (let n = 1; ; n++) {
    const file = join(folder, `${name}${n > 1 ? `-${n}` : ''}${ENDING}`)
    if (!existsSync(file)) return file
  }
}

/**
 * Makes a backup in the data folder and removes the oldest of its kind, never the one that was just made. In: data folder, address of the database, kind, version of
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
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 })
    const file = freeName(folder, `${kind}-${stamp}`)
    const summary = await backUp(url, file, of)
    const others = backupsOf(data, kind, +now).filter((k) => k.file !== file)
    for (const old of others.slice(KEPT[kind] - 1)) rmSync(old.file, { force: true })
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

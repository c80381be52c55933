import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { bundlePrograms } from './bundle'
import { type Child, startChild } from './child'

const SOURCES = ['package-lock.json', 'next.config.ts', 'postcss.config.mjs', 'src', 'public']

const filesUnder = (path: string): string[] => {
  if (!existsSync(path)) return []
  const entries = (() => {
    try {
      return readdirSync(path, { withFileTypes: true })
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOTDIR') return undefined
      throw error
    }
  })()
  if (!entries) return [path]
  return entries.flatMap((e) => (e.isDirectory() ? filesUnder(join(path, e.name)) : [join(path, e.name)]))
}

/** A digest of everything that the built application is made from. In: root of the checkout. */
export const sourceDigest = (root: string): string => {
  const hash = createHash('sha256')
  for (const source of SOURCES)
    for (const file of filesUnder(join(root, source)).sort()) {
      if (/\.test\.tsx?$/.test(file)) continue
      hash.update(file.slice(root.length)).update('\0').update(readFileSync(file)).update('\0')
    }
  return hash.digest('hex')
}

/**
 * Builds the application where its sources changed since it was last built into this folder.
 * In: root of the checkout, name of the build folder, log file; `begun` hears of the process, so that it can be ended. Out: whether it
 * had to be built. Errors: throws a sentence with the log's place.
 */
export const buildWhereNeeded = async (
  root: string,
  dist: string,
  log: string,
  begun: (child: Child) => void = () => undefined,
): Promise<boolean> => {
  const stamp = join(root, dist, 'wexmar-sources')
  const digest = sourceDigest(root)
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === digest) return false
  rmSync(stamp, { force: true })
  const child = startChild(
    'build',
    [process.execPath, join(root, 'node_modules/next/dist/bin/next'), 'build'],
    {
      cwd: root,
      env: { NODE_ENV: 'production', WEXMAR_DIST: dist, NEXT_TELEMETRY_DISABLED: '1' },
      log,
    },
  )
  begun(child)
  const how = await child.gone
  if (how !== 'exit code 0') throw new Error(`The application could not be built (${how}); ${log} says why.`)
  await bundlePrograms(root, dist)
  writeFileSync(stamp, digest)
  return true
}

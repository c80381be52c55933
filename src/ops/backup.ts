/** `bin/backup FILE`: the whole installation in one file, while it runs. `--daily`: the supervisor's own, in the data folder. */
import { mkdirSync, statSync } from 'node:fs'
import { setPriority } from 'node:os'
import { dirname, resolve } from 'node:path'
import { backUp } from '#db'
import { keepBackup, version } from './backups'
import { readConfig } from './config'
import { isFull } from './memory-file'
import { withDatabase } from './reach'

// It may take its time: everything else goes on beside it.
setPriority(10)
const say = (line: string) => console.log(line)

const main = async () => {
  const [word, ...rest] = process.argv.slice(2).filter((a) => !a.startsWith('--of='))
  const config = readConfig()
  const of = version(config.root)
  if (word === '--daily' && rest.length === 0) {
    const { file, summary } = await withDatabase(config, say, (url) =>
      keepBackup(config.data, url, 'daily', of, new Date()),
    )
    say(`backup: ${file}, ${summary.rows} rows`)
    return
  }
  if (!word || word.startsWith('-') || rest.length > 0)
    throw new Error('Usage: bin/backup FILE. The whole installation is written to FILE, while it runs.')
  const file = resolve(process.env.WEXMAR_CALLED_IN ?? process.cwd(), word)
  mkdirSync(dirname(file), { recursive: true })
  const { rows, tables } = await withDatabase(config, say, (url) => backUp(url, file, of))
  const megabytes = statSync(file).size / 1024 / 1024
  say(`Backed up ${rows} rows of ${tables} tables to ${file} (${megabytes.toFixed(1)} MB).`)
  say('Keep a copy on another disk. bin/restore brings it back.')
}

main().catch((error: Error) => {
  console.error(
    isFull(error) ? 'The disk is full: no backup was written. Make room, then try again.' : error.message,
  )
  process.exit(1)
})

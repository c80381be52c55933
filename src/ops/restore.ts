/** `bin/restore FILE [--replace]`: brings a backup back. */
import { resolve } from 'node:path'
import { checkBackup, restore } from '#db'
import { keepBackup, version } from './backups'
import { readConfig } from './config'
import { withDatabase } from './reach'

const say = (line: string) => console.log(line)

const main = async () => {
  const words = process.argv.slice(2)
  const replace = words.includes('--replace')
  const [name, ...rest] = words.filter((w) => w !== '--replace')
  if (!name || name.startsWith('-') || rest.length > 0)
    throw new Error(
      'Usage: bin/restore FILE [--replace]. Without --replace only an empty installation is restored into.',
    )
  const config = readConfig()
  const file = resolve(process.env.WEXMAR_CALLED_IN ?? process.cwd(), name)
  // Before anything is started: a file that is no good changes nothing at all.
  const found = await checkBackup(file)
  say(`${file}: whole, made ${found.made.slice(0, 10)} by version ${found.version}, ${found.rows} rows.`)
  await withDatabase(config, say, async (url, supervisor) => {
    const keep = async (replaced: string) => {
      const { file: before } = await keepBackup(
        config.data,
        replaced,
        'before-restore',
        version(config.root),
        new Date(),
      )
      say(`What it replaced is backed up: ${before}`)
    }
    try {
      await restore(url, file, replace ? keep : undefined)
    } finally {
      // Whatever is running may remember the old rows: the supervisor starts it again.
      if (supervisor) process.kill(supervisor, 'SIGUSR2')
    }
  })
  say('Restored.')
}

main().catch((error: Error) => {
  console.error(error.message)
  process.exit(1)
})

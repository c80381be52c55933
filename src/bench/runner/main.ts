/** The runner as a process of its own. */
import { openDatabase } from '#db'
import { runnerLoop } from './loop'

const url = process.env.DATABASE_URL
if (!url) {
  console.error('runner: DATABASE_URL is not set')
  process.exit(1)
}
const db = openDatabase(url)
const leave = new AbortController()
process.on('SIGTERM', () => leave.abort())
process.on('SIGINT', () => leave.abort())
console.log('runner: waiting for runs')
await runnerLoop(db, leave.signal)
await db.sequelize.close()

/** The pilot as a process of its own: it presses the key in sessions that go unattended. */
import { setPriority } from 'node:os'
import { context } from '#server/base'
import { pilotLoop } from '#server/session'

// It works beside people: whoever answers them goes first.
setPriority(10)
const leave = new AbortController()
process.on('SIGTERM', () => leave.abort())
process.on('SIGINT', () => leave.abort())
const ctx = context()
console.log('pilot: looking after unattended sessions')
await pilotLoop(ctx, leave.signal)
await ctx.db.sequelize.close()

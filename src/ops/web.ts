/** The web application as a process of its own: the built Next.js application behind the guard; while it is developed (`WEXMAR_DEV`), compiled as it is asked for. */
import next from 'next'
import { health } from '#server/background'
import { context, seeBench } from '#server/base'
import { frontServer } from './front'
import { originsFrom } from './guard'

const port = Number(process.env.WEXMAR_PORT ?? 4310)
const hostname = '127.0.0.1'
const origins = originsFrom(process.env.WEXMAR_ORIGIN, port)
// What addresses in feeds are made from.
process.env.WEXMAR_ORIGIN = origins[0]

// What is known of the bench is known before the first page asks for it.
void seeBench(context())
const developed = process.env.WEXMAR_DEV === '1'
const app = next({ dev: developed, hostname, port })
await app.prepare()
const handle = app.getRequestHandler()
const takeOver = app.getUpgradeHandler()
// So is whether the database answers.
void health(context())
const server = frontServer(
  origins,
  (request, response) => handle(request, response),
  async (_, response) => {
    const found = await health(context())
    response.writeHead(found.status === 'ok' ? 200 : 503, { 'content-type': 'application/json' })
    response.end(JSON.stringify(found))
  },
  developed ? takeOver : undefined,
)
server.on('error', (error) => {
  console.error(`web: ${error.message}`)
  process.exit(1)
})
server.listen(port, hostname, () => {
  console.log(`web: on port ${port}`)
  if (!developed) void warmUp()
})

/** Asks once for what people ask for first, so that none of them waits while its code is read. */
const warmUp = async (): Promise<void> => {
  const base = `http://${hostname}:${port}`
  const command = {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: '{"type":"pause"}',
  }
  const asked: ReadonlyArray<readonly [string, RequestInit?]> = [
    ['/api/health'],
    ['/api/sessions/999999999/commands', command],
    ['/'],
    ['/units'],
    ['/guides'],
    ['/evidence'],
    ['/units/999999999'],
    ['/sessions/999999999'],
    ['/models/nowhere'],
  ]
  for (const [path, init] of asked)
    await fetch(base + path, init).then(
      (answer) => answer.arrayBuffer(),
      // The next request will meet the same and say so.
      () => undefined,
    )
}
const stop = () => {
  server.close(() => process.exit(0))
  server.closeAllConnections()
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)

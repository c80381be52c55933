/** The web application as a process of its own: the built Next.js application behind the guard. */
import next from 'next'
import { frontServer } from './front'
import { originsFrom } from './guard'

const port = Number(process.env.WEXMAR_PORT ?? 4310)
const hostname = '127.0.0.1'
const origins = originsFrom(process.env.WEXMAR_ORIGIN, port)
// What addresses in feeds are made from.
process.env.WEXMAR_ORIGIN = origins[0]

const app = next({ dev: false, hostname, port })
await app.prepare()
const handle = app.getRequestHandler()
const server = frontServer(origins, (request, response) => handle(request, response))
server.on('error', (error) => {
  console.error(`web: ${error.message}`)
  process.exit(1)
})
server.listen(port, hostname, () => console.log(`web: on port ${port}`))
const stop = () => {
  server.close(() => process.exit(0))
  server.closeAllConnections()
}
process.on('SIGTERM', stop)
process.on('SIGINT', stop)

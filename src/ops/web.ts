/** The web application as a process of its own: the built Next.js application behind a plain HTTP server. */
import { createServer } from 'node:http'
import next from 'next'

const port = Number(process.env.WEXMAR_PORT ?? 4310)
const hostname = '127.0.0.1'

/** Next.js answers 500 to an address that is no valid percent-encoding; it is one that leads nowhere. */
const readable = (address: string): string => {
  try {
    decodeURIComponent(address)
    return address
  } catch {
    return '/nowhere'
  }
}

const app = next({ dev: false, hostname, port })
await app.prepare()
const handle = app.getRequestHandler()
const server = createServer((request, response) => {
  request.url = readable(request.url ?? '/')
  void handle(request, response)
})
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

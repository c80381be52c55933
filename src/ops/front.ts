import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { Duplex } from 'node:stream'
import { asRequest, type RequestNotes } from '#db'
import {
  cleanHeaders,
  contentPolicy,
  judge,
  newNonce,
  type Origins,
  type Refusal,
  SAFE_HEADERS,
} from './guard'

type Handle = (request: IncomingMessage, response: ServerResponse) => Promise<void>

const NOWHERE = '/nowhere'
/** Next.js (16) answers 500 to an address that is no valid percent-encoding; it is one that leads nowhere. */
const readable = (address: string): string => {
  try {
    return decodeURIComponent(address).includes('\0') ? NOWHERE : address
  } catch {
    return NOWHERE
  }
}

const refuse = (request: IncomingMessage, response: ServerResponse, { status, error, allow }: Refusal) => {
  // What is left of a body that nobody reads is not waited for.
  response.setHeader('connection', 'close')
  if (allow) response.setHeader('allow', allow)
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8' })
  response.end(request.method === 'HEAD' ? undefined : JSON.stringify({ error }))
}

/**
 * Puts right what an answer says of itself as it begins. A page says by itself what may run on it, or gets the common policy. Next.js (16) answers 500 where the
 * database failed it, which is something to wait for, and where it cannot read the arguments of an action, which is the sender's doing: then no work was begun.
 */
const settle = (
  request: IncomingMessage,
  response: ServerResponse,
  notes: RequestNotes,
  policy: string,
): void => {
  const { writeHead } = response
  const isAction = request.method === 'POST' && !request.url?.startsWith('/api/')
  response.writeHead = ((status: number, ...words: unknown[]) => {
    const told = status !== 500 ? status : notes.away ? 503 : isAction && !notes.begun ? 400 : 500
    if (!response.headersSent) {
      if (told === 503 && notes.away) response.setHeader('retry-after', '2')
      if (!response.hasHeader('content-security-policy'))
        response.setHeader('content-security-policy', policy)
    }
    return (writeHead as (...all: unknown[]) => ServerResponse).call(response, told, ...words)
  }) as ServerResponse['writeHead']
}

/** How the application takes over a connection while it is developed: its page hears of each edit that way. */
type TakeOver = (request: IncomingMessage, socket: Duplex, head: Buffer) => Promise<void>

/**
 * The server in front of the application: it refuses what does not come from Wexmar's own pages before anything of it is read, and puts the safety headers on
 * every answer. Next.js compares origins for its actions too, though not for routes, and holds bodies to a size as it reads them; here they are judged by what
 * they say they are, for every address. In: origins that are allowed, the application; what
 * answers for its health, which waits for nothing else; while Wexmar is developed, what takes over connections. Out: a server that does not listen yet.
 */
export const frontServer = (
  origins: Origins,
  application: Handle,
  answerHealth?: Handle,
  takeOver?: TakeOver,
): Server => {
  const serve = async (request: IncomingMessage, response: ServerResponse) => {
    for (const [name, value] of Object.entries(SAFE_HEADERS)) response.setHeader(name, value)
    const policy = contentPolicy(newNonce(), takeOver !== undefined)
    const asked = { method: request.method ?? '', target: request.url ?? '', headers: request.headers }
    const refusal = judge(asked, origins)
    const notes: RequestNotes = { away: false, begun: false }
    settle(request, response, notes, policy)
    if (refusal) return refuse(request, response, refusal)
    if (answerHealth && asked.target === '/api/health' && asked.method === 'GET')
      return answerHealth(request, response)
    // While it is developed the framework finds its page again by headers of its own.
    if (!takeOver) cleanHeaders(request.headers)
    // The framework reads the nonce for its own scripts from the request.
    request.headers['content-security-policy'] = policy
    request.url = readable(asked.target)
    // A page that is not there takes nothing, and the framework would read a body as a form of it.
    if (request.method === 'POST' && request.url === NOWHERE)
      return refuse(request, response, {
        status: 404,
        error: 'The address cannot be read. Nothing was changed.',
      })
    return asRequest(notes, () => application(request, response))
  }
  const server = createServer((request, response) => {
    serve(request, response).catch((error: Error) => {
      console.error(`web: ${request.method} ${request.url}: ${error.stack}`)
      if (!response.headersSent) response.writeHead(500).end()
      else response.destroy()
    })
  })
  server.on('connect', (_, socket) =>
    socket.end('HTTP/1.1 405 Method Not Allowed\r\nconnection: close\r\n\r\n'),
  )
  server.on('upgrade', (request, socket, head) => {
    const asked = { method: 'GET', target: request.url ?? '', headers: request.headers }
    if (takeOver && !judge(asked, origins)) void takeOver(request, socket, head)
    else socket.end('HTTP/1.1 400 Bad Request\r\nconnection: close\r\n\r\n')
  })
  server.on('clientError', (_, socket) => {
    if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nconnection: close\r\n\r\n')
  })
  return server
}

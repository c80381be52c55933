import { createServer, IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { Duplex } from 'node:stream'
import busboy from 'busboy'
import pLimit from 'p-limit'
import { asRequest } from '#db'
import {
  bodyRule,
  cleanHeaders,
  contentPolicy,
  isTooDeep,
  judge,
  newNonce,
  type Origins,
  type Refusal,
  SAFE_HEADERS,
} from './guard'

type Handle = (request: IncomingMessage, response: ServerResponse) => Promise<void>

const NOWHERE = '/nowhere'
/** The framework answers 500 to an address that is no valid percent-encoding; it is one that leads nowhere. */
const readable = (address: string): string => {
  try {
    return decodeURIComponent(address).includes('\0') ? NOWHERE : address
  } catch {
    return NOWHERE
  }
}

/** Changes that the application works on at once; more wait their turn here, so that everything else is answered meanwhile. */
const MOST_CHANGES = 6

const refuse = (request: IncomingMessage, response: ServerResponse, { status, error, allow }: Refusal) => {
  // What is left of a body that nobody reads is not waited for.
  response.setHeader('connection', 'close')
  if (allow) response.setHeader('allow', allow)
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8' })
  response.end(request.method === 'HEAD' ? undefined : JSON.stringify({ error }))
}

/** What answers a request to a fault of the framework's own says 500; where the database failed it, that is something to wait for. */
const tellAway = (response: ServerResponse, faults: { readonly away: boolean }): void => {
  const { writeHead } = response
  response.writeHead = ((status: number, ...words: unknown[]) => {
    const away = status === 500 && faults.away
    if (away && !response.headersSent) response.setHeader('retry-after', '2')
    return (writeHead as (...all: unknown[]) => ServerResponse).call(response, away ? 503 : status, ...words)
  }) as ServerResponse['writeHead']
}

/** How the application takes over a connection while it is developed: its page hears of each edit that way. */
type TakeOver = (request: IncomingMessage, socket: Duplex, head: Buffer) => Promise<void>

/**
 * The server in front of the application: it refuses what does not come from Wexmar's own pages, reads small bodies whole and looks
 * whether they are what they say, and puts the safety headers on every answer. In: origins that are allowed, the application; what
 * answers for its health, which waits for nothing else; while Wexmar is developed, what takes over connections. Out: a server that does not listen yet.
 */
export const frontServer = (
  origins: Origins,
  application: Handle,
  answerHealth?: Handle,
  takeOver?: TakeOver,
): Server => {
  const handle: Handle = (request, response) => {
    const faults = { away: false }
    tellAway(response, faults)
    return asRequest(faults, () => application(request, response))
  }
  const changes = pLimit(MOST_CHANGES)
  const serve = async (request: IncomingMessage, response: ServerResponse) => {
    for (const [name, value] of Object.entries(SAFE_HEADERS)) response.setHeader(name, value)
    const policy = contentPolicy(newNonce(), takeOver !== undefined)
    response.setHeader('content-security-policy', policy)
    const asked = { method: request.method ?? '', target: request.url ?? '', headers: request.headers }
    const refusal = judge(asked, origins)
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
    if (request.method !== 'POST' || bodyRule(asked.target).streamed) return handle(request, response)
    const body = await bodyOf(request)
    if (!body) return
    const wrong = await whatIsWrong(request, body)
    if (wrong) return refuse(request, response, { status: 400, error: `${wrong} Nothing was changed.` })
    return changes(() => handle(withBody(request, body), response))
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

/** A whole body; its length was judged before and the protocol holds it to that. Undefined where the client went away. */
const bodyOf = async (request: IncomingMessage): Promise<Buffer | undefined> => {
  const chunks: Buffer[] = []
  try {
    for await (const chunk of request) chunks.push(chunk as Buffer)
  } catch {
    // The client went away in the middle: nobody is left to answer to.
    return undefined
  }
  return Buffer.concat(chunks)
}

/** Why a body is not what its type says, in a sentence; undefined where it is. */
const whatIsWrong = async (request: IncomingMessage, body: Buffer): Promise<string | undefined> => {
  const type = request.headers['content-type']!.split(';')[0]!.trim().toLowerCase()
  const text = () => new TextDecoder('utf-8', { fatal: true }).decode(body)
  try {
    if (type === 'multipart/form-data') return await whatIsWrongWithForm(request, body)
    const plain = text()
    if (type === 'application/x-www-form-urlencoded') return undefined
    if (isTooDeep(plain)) return 'The body is nested too deep.'
    const value: unknown = JSON.parse(plain)
    if (request.headers['next-action'] === undefined) return undefined
    return Array.isArray(value) && areArguments(value, new Set())
      ? undefined
      : 'These are no arguments of an action.'
  } catch {
    return 'The body cannot be read as what it says it is.'
  }
}

const FORM_LIMITS = {
  fields: 2_000,
  files: 20,
  parts: 2_000,
  fieldNameSize: 500,
  fieldSize: 256 * 1024,
  headerPairs: 50,
}

const whatIsWrongWithForm = (request: IncomingMessage, body: Buffer): Promise<string | undefined> =>
  new Promise((resolve) => {
    const torn = () => resolve('The form cannot be read.')
    const parser = (() => {
      try {
        return busboy({ headers: request.headers, limits: FORM_LIMITS })
      } catch {
        // Its boundary is missing.
        return undefined
      }
    })()
    if (!parser) return torn()
    const names = new Set<string>()
    /** Fields in which the framework writes the arguments of an action; of them, the list itself. */
    const written: string[] = []
    let list: string | undefined
    const called = request.headers['next-action'] !== undefined
    parser.on('field', (name, value) => {
      names.add(name)
      if (isTooDeep(value)) resolve('A field of the form is nested too deep.')
      else if (/^\d+$/.test(name) || /^\$ACTION_\d+:\d+$/.test(name)) written.push(value)
      if (name === '0') list = value
    })
    parser.on('file', (name, stream) => {
      names.add(name)
      stream.resume()
    })
    for (const limit of ['partsLimit', 'filesLimit', 'fieldsLimit'] as const)
      parser.on(limit, () => resolve('The form has too many parts.'))
    parser.on('error', torn)
    parser.on('close', () => {
      try {
        const whole =
          written.every((value) => areArguments(JSON.parse(value), names)) &&
          (!called || Array.isArray(JSON.parse(list ?? '')))
        resolve(whole ? undefined : 'These are no arguments of an action.')
      } catch {
        // What should be JSON is none.
        torn()
      }
    })
    parser.end(body)
  })

/** Words that stand for values which JSON has not, as the framework writes them. */
const PLAIN_WORD = /^\$(\$|undefined$|Infinity$|-Infinity$|-0$|NaN$|D|n-?\d+$)/

/**
 * Whether a value can be arguments of an action: whatever it says lies in another part of the form is there. The framework answers 500
 * where it is not. In: value; names of the parts.
 */
const areArguments = (value: unknown, names: ReadonlySet<string>): boolean => {
  if (typeof value === 'string') {
    if (!value.startsWith('$') || PLAIN_WORD.test(value)) return true
    // A form within the form may have no fields at all.
    if (/^\$K[0-9a-f]+$/.test(value)) return names.size > 0
    const [, id] = /^\$[A-Za-z@]?([0-9a-f]+)/.exec(value) ?? []
    if (id === undefined) return false
    const part = String(Number.parseInt(id, 16))
    return [...names].some(
      (name) =>
        name === part ||
        name.startsWith(`${part}_`) ||
        name.startsWith(`_${part}_`) ||
        name.endsWith(`:${part}`),
    )
  }
  if (typeof value !== 'object' || value === null) return true
  return Object.values(value).every((inner) => areArguments(inner, names))
}

/** The same request with a body that was read already. */
const withBody = (request: IncomingMessage, body: Buffer): IncomingMessage => {
  const again = new IncomingMessage(request.socket)
  Object.assign(again, {
    method: request.method,
    url: request.url,
    headers: request.headers,
    rawHeaders: request.rawHeaders,
    httpVersion: request.httpVersion,
    httpVersionMajor: request.httpVersionMajor,
    httpVersionMinor: request.httpVersionMinor,
    complete: true,
  })
  again.push(body)
  again.push(null)
  return again
}

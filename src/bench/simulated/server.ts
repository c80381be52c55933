import { createHash, timingSafeEqual } from 'node:crypto'
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { z } from 'zod'
import {
  type BenchError,
  Flashes,
  ReadMeter,
  ResetDisplay,
  SetControl,
  ShowPattern,
  SimulationChange,
  Wait,
} from '#core/protocol'
import type { SimulatedBench } from './bench'
import type { Answer } from './stand'

const LARGEST_BODY = 64 * 1024

const send = (response: ServerResponse, status: number, body: unknown) =>
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8' }).end(JSON.stringify(body))

const bodyOf = async (request: IncomingMessage): Promise<unknown> => {
  const chunks: Buffer[] = []
  let size = 0
  for await (const chunk of request) {
    size += chunk.length
    if (size > LARGEST_BODY) throw new Error('The body is too long.')
    chunks.push(chunk)
  }
  return size ? JSON.parse(Buffer.concat(chunks).toString('utf8')) : {}
}

const LOOPBACK: ReadonlySet<string> = new Set(['127.0.0.1', 'localhost', '[::1]'])

/** Why a request is not one of Wexmar's, with its status; undefined where it may be. No page of any browser drives a display. */
const foreign = (request: IncomingMessage, token: string | undefined): [number, string] | undefined => {
  const { host, origin, authorization } = request.headers
  if (!host || !LOOPBACK.has(host.replace(/:\d+$/, '').toLowerCase()))
    return [421, 'This bench is not reached under that name.']
  if (
    origin !== undefined ||
    !['same-origin', 'none', undefined].includes(request.headers['sec-fetch-site'] as string)
  )
    return [403, 'This bench takes nothing from web pages.']
  if (token !== undefined && !same(authorization ?? '', `Bearer ${token}`))
    return [401, 'This bench asks for its token. It lies in the folder “secrets” of WEXMAR_DATA.']
  const carries = request.method !== 'GET' && request.headers['content-length'] !== '0'
  const type = request.headers['content-type']?.split(';')[0]
  if (carries && type?.trim().toLowerCase() !== 'application/json')
    return [415, 'Bodies are JSON, with content-type: application/json.']
  return undefined
}

/** Whether two texts are the same, in a time that tells nothing of where they differ. */
const same = (a: string, b: string): boolean => {
  const [x, y] = [a, b].map((text) => createHash('sha256').update(text).digest())
  return timingSafeEqual(x!, y!)
}

/**
 * Speaks `docs/bench-protocol.md` for a simulated bench. In: bench; token that every request must carry, if any. Out: a server that does
 * not listen yet.
 */
export const benchServer = (bench: SimulatedBench, token?: string): Server =>
  createServer(async (request, response) => {
    const refused = foreign(request, token)
    if (refused) {
      const [status, message] = refused
      response.setHeader('connection', 'close')
      return send(response, status, { error: { code: 'refused', message } } satisfies BenchError)
    }
    const path = new URL(request.url ?? '/', 'http://bench').pathname
    const route = `${request.method} ${path}`
    const refuse = (status: number, body: BenchError) => send(response, status, body)
    const give = (value: unknown) => send(response, 200, value)
    const answer = <T>(result: Answer<T>) =>
      result.ok ? give(result.value) : refuse(result.status, result.body)
    const parsed = async <S extends z.ZodType>(schema: S, use: (body: z.infer<S>) => unknown) => {
      let body: unknown
      try {
        body = await bodyOf(request)
      } catch (error) {
        return refuse(400, {
          error: { code: 'bad-request', message: `The body is not JSON: ${(error as Error).message}` },
        })
      }
      const result = schema.safeParse(body)
      if (result.success) return use(result.data)
      const first = result.error.issues[0]
      const message = `${first?.path.join('.') || 'body'}: ${first?.message}`
      return refuse(400, { error: { code: 'bad-request', message: message.slice(0, 500) } })
    }

    const control = /^PUT \/v2\/display\/controls\/([a-z0-9-]{1,60})$/.exec(route)?.[1]
    if (control) return parsed(SetControl, async ({ value }) => answer(await bench.set(control, value)))
    switch (route) {
      case 'GET /v2':
        return give(bench.describe())
      case 'POST /v2/wait':
        return parsed(Wait, async ({ seconds }) => give(await bench.wait(seconds)))
      case 'GET /v2/display/sheet':
        return give(bench.sheet())
      case 'GET /v2/display/state':
        return give(bench.state())
      case 'GET /v2/display/signal':
        return give(bench.signal())
      case 'POST /v2/display/reset':
        return parsed(ResetDisplay, async (what) => answer(await bench.reset(what)))
      case 'PUT /v2/pattern':
        return parsed(ShowPattern, async (pattern) => answer(await bench.show(pattern)))
      case 'POST /v2/meter/readings':
        return parsed(ReadMeter, async (asked) => answer(await bench.read(asked)))
      case 'POST /v2/meter/dark-calibration':
        return give(await bench.darkCalibration())
      case 'POST /v2/probe/flashes':
        return parsed(Flashes, async (asked) => answer(await bench.flashes(asked)))
      case 'GET /simulation':
        return give(bench.simulation())
      case 'GET /simulation/light':
        return give(bench.light())
      case 'PATCH /simulation':
        return parsed(SimulationChange, (change) => answer(bench.simulate(change)))
      default:
        return refuse(404, { error: { code: 'not-found', message: `No ${route} on this bench.` } })
    }
  })

import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { z } from 'zod'
import { type BenchError, ResetDisplay, SetControl, ShowPatch, SimulationChange } from '#core/protocol'
import type { SimulatedBench } from './bench'

const LARGEST_BODY = 64 * 1024

const send = (response: ServerResponse, status: number, body: unknown) => {
  const text = JSON.stringify(body)
  response.writeHead(status, { 'content-type': 'application/json; charset=utf-8' }).end(text)
}
const refuse = (response: ServerResponse, status: number, body: BenchError) => send(response, status, body)

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

/** Speaks `docs/bench-protocol.md` for a simulated bench. Out: a server that does not listen yet. */
export const benchServer = (bench: SimulatedBench): Server =>
  createServer(async (request, response) => {
    const path = new URL(request.url ?? '/', 'http://bench').pathname
    const route = `${request.method} ${path}`
    const parsed = async <S extends z.ZodType>(schema: S, use: (body: z.infer<S>) => Promise<void>) => {
      let body: unknown
      try {
        body = await bodyOf(request)
      } catch (error) {
        return refuse(response, 400, {
          error: { code: 'bad-request', message: `The body is not JSON: ${(error as Error).message}` },
        })
      }
      const result = schema.safeParse(body)
      if (!result.success) {
        const first = result.error.issues[0]
        const message = `${first?.path.join('.') || 'body'}: ${first?.message}`
        return refuse(response, 400, { error: { code: 'bad-request', message } })
      }
      return use(result.data)
    }
    const answer = <T>(result: Awaited<ReturnType<SimulatedBench['set']>> | { ok: true; value: T }) =>
      result.ok ? send(response, 200, result.value) : refuse(response, result.status, result.body)

    if (route === 'GET /v1') return send(response, 200, bench.describe())
    if (route === 'GET /v1/display/sheet') return send(response, 200, bench.sheet())
    if (route === 'GET /v1/display/state') return send(response, 200, bench.state())
    if (route === 'POST /v1/display/reset')
      return parsed(ResetDisplay, async () => send(response, 200, await bench.reset()))
    const control = /^PUT \/v1\/display\/controls\/([a-z0-9-]{1,60})$/.exec(route)
    if (control?.[1]) {
      const key = control[1]
      return parsed(SetControl, async ({ value }) => answer(await bench.set(key, value)))
    }
    if (route === 'PUT /v1/pattern')
      return parsed(ShowPatch, async (patch) => send(response, 200, await bench.show(patch)))
    if (route === 'POST /v1/meter/readings') {
      const result = await bench.read()
      return result.ok ? send(response, 200, result.value) : refuse(response, result.status, result.body)
    }
    if (route === 'GET /simulation') return send(response, 200, bench.simulation())
    if (route === 'PATCH /simulation')
      return parsed(SimulationChange, async (change) => {
        const result = bench.simulate(change)
        return result.ok ? send(response, 200, result.value) : refuse(response, result.status, result.body)
      })
    return refuse(response, 404, { error: { code: 'not-found', message: `No ${route} on this bench.` } })
  })

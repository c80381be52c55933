import type { z } from 'zod'
import { BenchError, type ErrorCode } from '#core/protocol'

/** What became of one promise of the protocol. */
export interface Finding {
  readonly promise: string
  readonly verdict: 'kept' | 'broken' | 'not-tried'
  /** What was wrong, or why it was not tried; empty where it was kept. */
  readonly detail: string
}

type Reply = { status: number; type: string; json: unknown; text: string }

const PATIENCE_MS = 60_000

export const kept = (promise: string): Finding => ({ promise, verdict: 'kept', detail: '' })
export const broken = (promise: string, detail: string): Finding => ({ promise, verdict: 'broken', detail })
export const skipped = (promise: string, detail: string): Finding => ({
  promise,
  verdict: 'not-tried',
  detail,
})

type Asked = readonly [method: string, path: string, body?: unknown]

/** How a bench is asked, and its answers held against what the protocol promises. In: address of the bench. */
export const askerOf = (base: string) => {
  const root = base.endsWith('/') ? base : `${base}/`
  const ask = async (method: string, path: string, body?: string): Promise<Reply> => {
    const response = await fetch(new URL(path, root), {
      method,
      signal: AbortSignal.timeout(PATIENCE_MS),
      ...(body === undefined ? {} : { body, headers: { 'content-type': 'application/json' } }),
    })
    const text = await response.text()
    return {
      status: response.status,
      type: response.headers.get('content-type') ?? '',
      json: parse(text),
      text,
    }
  }
  /** Asks, holds the answer against its schema, and against what else was promised of it. */
  const expectOf = async <S extends z.ZodType>(
    promise: string,
    schema: S,
    [method, path, body]: Asked,
    also: (value: z.infer<S>) => string | undefined = () => undefined,
  ): Promise<{ finding: Finding; value?: z.infer<S> }> => {
    try {
      const reply = await ask(method, path, body === undefined ? undefined : JSON.stringify(body))
      if (reply.status !== 200)
        return { finding: broken(promise, `${method} ${path} answered ${reply.status}: ${said(reply)}`) }
      if (!reply.type.startsWith('application/json'))
        return { finding: broken(promise, `The content-type is “${reply.type}”, not application/json.`) }
      const result = schema.safeParse(reply.json)
      if (!result.success) {
        const issues = result.error.issues.slice(0, 4)
        const detail = issues.map((i) => `${i.path.join('.') || 'body'}: ${i.message}`).join('; ')
        return { finding: broken(promise, detail) }
      }
      const wrong = also(result.data)
      return { finding: wrong ? broken(promise, wrong) : kept(promise), value: result.data }
    } catch (error) {
      return { finding: broken(promise, `${method} ${path}: ${(error as Error).message}`) }
    }
  }
  const refuses = async (
    promise: string,
    code: ErrorCode,
    [method, path, body]: readonly [string, string, string?],
  ): Promise<Finding> => {
    try {
      const reply = await ask(method, path, body)
      const told = BenchError.safeParse(reply.json)
      if (reply.status < 400) return broken(promise, `${method} ${path} was accepted with ${reply.status}.`)
      if (!told.success) return broken(promise, `The answer ${reply.status} says no code and no message.`)
      const want = STATUS[code]
      if (told.data.error.code !== code || reply.status !== want)
        return broken(
          promise,
          `${method} ${path} answered ${reply.status} “${told.data.error.code}”, promised is ${want} “${code}”.`,
        )
      return kept(promise)
    } catch (error) {
      return broken(promise, `${method} ${path}: ${(error as Error).message}`)
    }
  }

  /** The same as a finding alone. */
  const finds = async <S extends z.ZodType>(
    promise: string,
    schema: S,
    asked: Asked,
    also?: (value: z.infer<S>) => string | undefined,
  ): Promise<Finding> => (await expectOf(promise, schema, asked, also)).finding
  return { ask, expectOf, finds, refuses }
}
export type Asker = ReturnType<typeof askerOf>

const STATUS: Readonly<Record<ErrorCode, number>> = {
  'bad-request': 400,
  'not-found': 404,
  refused: 409,
  'no-device': 503,
  timeout: 504,
  failed: 500,
}

const parse = (text: string): unknown => {
  try {
    return JSON.parse(text)
  } catch {
    // Not JSON: the schema that it is held against says so.
    return undefined
  }
}

const said = (reply: Reply): string => {
  const told = BenchError.safeParse(reply.json)
  return told.success ? `${told.data.error.code}, ${told.data.error.message}` : reply.text.slice(0, 120)
}

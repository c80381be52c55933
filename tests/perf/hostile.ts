import { uniform } from '#core/random'
import type { Demo } from '#tests/demo'
import {
  ARGUMENTS,
  actionsOf,
  BODIES,
  filled,
  IDS,
  length,
  ownHeaders,
  ROUTES,
  type Sent,
  sendTo,
} from '#tests/hostile'
import { memoryOf } from './load'

type Tell = (what: string, measured: string, wanted: string) => void

const COUNT = 20_000
const AT_ONCE = 12
const METHODS = ['GET', 'GET', 'HEAD', 'PUT', 'DELETE', 'OPTIONS', 'PROPFIND'] as const
const QUERIES = [
  '',
  '',
  '?page=-1',
  '?q=%00',
  '?report=constructor',
  '?runs=a,1',
  '?unit[]=1',
  '?w=1e9&h=1',
  `?q=${'a'.repeat(4_000)}`,
]

/** Twenty thousand requests that nobody of good will sends, to all routes and actions: how they were answered, and what they cost. */
export const hostileRequests = async (demo: Demo, tell: Tell): Promise<void> => {
  console.log('Hostile requests')
  const address = new URL(demo.address)
  const actions = actionsOf(demo.env.WEXMAR_DIST ?? '.next')
  const next = uniform(20_000)
  const one = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!
  /** Text of no kind, up to 64 KB: every byte, or what a parser begins with. */
  const noise = (): Buffer => {
    const size = Math.floor(2 ** (16 * next()))
    const begins = one(['', '{', '[', 'PK\u0003\u0004', '\u001f\u008b', '\r\n', ',', '"'])
    return Buffer.concat([
      Buffer.from(begins),
      Buffer.from(Array.from({ length: size }, () => Math.floor(256 * next()))),
    ])
  }
  const made = (): Sent => {
    const path =
      filled(one(ROUTES).path, next() < 0.4 ? '1' : encodeURI(one(IDS).replace(/%(?![0-9A-F]{2})/g, '%25'))) +
      one(QUERIES)
    const kind = next()
    if (kind < 0.3) return { method: one(METHODS), path }
    const [type, fixed] = one(BODIES)
    const body = kind < 0.55 ? noise() : kind < 0.8 ? fixed : one(ARGUMENTS)
    return {
      method: 'POST',
      path,
      body,
      headers: {
        ...ownHeaders(address),
        ...length(body),
        ...(kind >= 0.8
          ? { 'next-action': one(actions), 'content-type': 'text/plain;charset=UTF-8' }
          : type
            ? { 'content-type': type }
            : {}),
      },
    }
  }
  const statuses = new Map<number, number>()
  const failed: string[] = []
  const before = memoryOf(demo)
  let left = COUNT
  const asker = async (): Promise<void> => {
    while (left-- > 0) {
      const sent = made()
      const { status } = await sendTo(address, sent)
      statuses.set(status, (statuses.get(status) ?? 0) + 1)
      if (status === 500)
        failed.push(`${sent.method} ${sent.path.slice(0, 80)} ${String(sent.body ?? '').slice(0, 60)}`)
    }
  }
  const begin = performance.now()
  await Promise.all(Array.from({ length: AT_ONCE }, asker))
  for (const line of failed.slice(0, 10)) console.log(`  500: ${line}`)
  const after = memoryOf(demo)
  const byStatus = [...statuses]
    .sort((a, b) => a[0] - b[0])
    .map(([status, n]) => `${n} × ${status || 'hung up'}`)
  const megabytes = (n: number) => `${(n / 1024).toFixed(0)} MB`
  tell(
    `${COUNT.toLocaleString('en-GB')} hostile requests to ${ROUTES.length} routes and ${actions.length} actions`,
    `${byStatus.join(', ')}; web process ${megabytes(before.now)} before, ${megabytes(after.most)} at most; ${((performance.now() - begin) / 1000).toFixed(0)} s`,
    'none 500, under 500 MB',
  )
}

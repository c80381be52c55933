import { readFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { zipSync } from 'fflate'
import { QueryTypes } from 'sequelize'
import { uniform } from '#core/random'
import { startSession } from '#server/unit'
import { type Demo, demoBench, lastLines } from '#tests/demo'
import { quantile } from './calibration'
import { type Desk, databaseOf } from './large'

type Tell = (what: string, measured: string, wanted: string) => void
const ms = (n: number) => `${n.toFixed(0)} ms`
const megabytes = (n: number) => `${(n / 1024).toFixed(0)} MB`

interface Answer {
  readonly status: number
  readonly took: number
  readonly bytes: number
}
interface Asked {
  readonly path: string
  readonly method?: string
  readonly headers?: Readonly<Record<string, string>>
  readonly body?: string | Uint8Array
}
/** Asks a demo and reads the whole answer. Out: its status (0 where there was none), ms and bytes. */
const ask = (
  demo: Demo,
  agent: Agent,
  { path, method = 'GET', headers = {}, body }: Asked,
): Promise<Answer> =>
  new Promise((resolve) => {
    const begin = performance.now()
    const { hostname, port } = new URL(demo.address)
    const sent = request({ agent, hostname, port, path, method, headers }, (answer) => {
      let bytes = 0
      answer.on('data', (piece: Buffer) => {
        bytes += piece.length
      })
      answer.on('close', () =>
        resolve({ status: answer.statusCode ?? 0, took: performance.now() - begin, bytes }),
      )
    })
    sent.on('error', () => resolve({ status: 0, took: performance.now() - begin, bytes: 0 }))
    sent.end(body)
  })
const connections = (n: number) => new Agent({ keepAlive: true, maxSockets: n })
const json = (body: object): Pick<Asked, 'method' | 'headers' | 'body'> => {
  const text = JSON.stringify(body)
  return {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'content-length': String(Buffer.byteLength(text)) },
    body: text,
  }
}

/** Asks for pages over so many connections at once. Out: every answer. */
const load = async (demo: Demo, n: number, count: number, path: (i: number) => string): Promise<Answer[]> => {
  const agent = connections(n)
  const answers: Answer[] = []
  let next = 0
  await Promise.all(
    Array.from({ length: n }, async () => {
      while (next < count) answers.push(await ask(demo, agent, { path: path(next++) }))
    }),
  )
  agent.destroy()
  return answers
}

/** Pages of a desk that has been at work for years, each time another row. */
export const pagesUnderLoad = async (demo: Demo, desk: Desk, tell: Tell): Promise<void> => {
  const next = uniform(3)
  const one = <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!
  const pages: Readonly<Record<string, () => string>> = {
    home: () => '/',
    units: () =>
      next() < 0.5
        ? `/units?page=${1 + Math.floor(100 * next())}`
        : `/units?q=PERF-${Math.floor(2_500 * next())}`,
    unit: () => `/units/${one(desk.units)}`,
    'unit with 40 sessions': () => `/units/${desk.busyUnit}`,
    model: () => `/models/${one(desk.models)}`,
    session: () => `/sessions/${one(desk.sessions)}`,
    evidence: () => (next() < 0.5 ? '/evidence' : `/evidence?unit=${one(desk.units)}`),
    'evidence of a run': () => `/evidence?runs=${one(desk.runs)}`,
    guides: () => (next() < 0.5 ? `/guides?page=${1 + Math.floor(15 * next())}` : '/guides?q=Model'),
    guide: () => `/guides/${one(desk.guides)}`,
    'feed of guides': () => '/guides/feed.xml',
  }
  for (const path of Object.values(pages)) await load(demo, 1, 8, path)
  for (const n of [1, 8, 32]) {
    const figures: Array<{ name: string; p95: number; failed: number }> = []
    for (const [name, path] of Object.entries(pages)) {
      const answers = await load(demo, n, n === 1 ? 100 : 320, path)
      const failed = answers.filter((a) => a.status !== 200).length
      const p95 = quantile(
        answers.map((a) => a.took),
        0.95,
      )
      figures.push({ name, p95, failed })
      console.log(`  ${name}, ${n} connections: ${ms(p95)} for 95 %${failed ? `, ${failed} FAILED` : ''}`)
    }
    const slowest = figures.reduce((a, b) => (b.p95 > a.p95 ? b : a))
    const failed = figures.reduce((sum, f) => sum + f.failed, 0)
    tell(
      `pages with ${n} ${n === 1 ? 'connection' : 'connections'}, slowest of ${figures.length}`,
      `${slowest.name} ${ms(slowest.p95)} for 95 %, ${failed} failed`,
      n === 1 ? 'at most 50 ms' : n === 8 ? 'at most 250 ms' : 'none fails',
    )
  }
}

/** Fifty commands at once, with health asked all the while. */
export const fiftyCommands = async (demo: Demo, tell: Tell): Promise<void> => {
  const db = databaseOf(demo)
  try {
    const ctx = { db, bench: demoBench(demo.benchUrl, demo.data) }
    const ids: number[] = []
    for (let i = 0; i < 50; i++) {
      const begun = await startSession(ctx, 2, { viewingCase: 'sdr-bright', baseMode: 'studio' })
      if (!begun.ok) throw new Error(begun.error)
      ids.push(begun.value)
    }
    const agent = connections(60)
    let going = true
    const health: Answer[] = []
    const looking = (async () => {
      while (going) {
        health.push(await ask(demo, agent, { path: '/api/health' }))
        await new Promise((resolve) => setTimeout(resolve, 5))
      }
    })()
    const begin = performance.now()
    const answers = await Promise.all(
      ids.map((id, i) =>
        ask(demo, agent, {
          path: `/api/sessions/${id}/commands`,
          ...json(
            i % 2
              ? { type: 'go', revision: 1 }
              : { type: 'leave', step: 'signal', reason: 'known', revision: 1 },
          ),
        }),
      ),
    )
    const took = performance.now() - begin
    going = false
    await looking
    for (const id of ids)
      await ask(demo, agent, { path: `/api/sessions/${id}/commands`, ...json({ type: 'cancel' }) })
    agent.destroy()
    const slow = Math.max(...health.map((a) => a.took))
    tell(
      '50 commands at once',
      `${answers.filter((a) => a.status !== 200).length} failed, all done in ${ms(took)}; health ${ms(slow)} at most, ${health.filter((a) => a.status !== 200).length} of ${health.length} not well`,
      'none fails, health within 100 ms',
    )
  } finally {
    await db.sequelize.close()
  }
}

/** Memory of the web process now and at most since it began, kB. */
export const memoryOf = (demo: Demo): { now: number; most: number } => {
  const status = readFileSync(`/proc/${demo.pidOf('ops/web')}/status`, 'utf8')
  const of = (name: string) => Number(new RegExp(`${name}:\\s+(\\d+)`).exec(status)?.[1])
  return { now: of('VmRSS'), most: of('VmHWM') }
}

/** Memory through ten thousand page views, and through what nobody of good will sends. */
export const memory = async (demo: Demo, desk: Desk | undefined, tell: Tell): Promise<void> => {
  const sessions = desk?.sessions ?? [1]
  const units = desk?.units ?? [1, 2]
  const before = memoryOf(demo)
  const paths = [
    '/',
    '/units',
    '/guides',
    '/evidence',
    '/models/ostrel-maren',
    '/sessions/1',
    '/guides/ostrel-maren-55',
  ]
  const answers = await load(demo, 8, 10_000, (i) =>
    i % 10 === 0
      ? `/units/${units[i % units.length]}`
      : i % 10 === 1
        ? `/sessions/${sessions[i % sessions.length]}`
        : paths[i % paths.length]!,
  )
  const views = memoryOf(demo)
  const failed = answers.filter((a) => a.status !== 200).length
  tell(
    'memory of the web process through 10,000 page views',
    `${megabytes(before.now)} before, ${megabytes(views.now)} after, ${megabytes(views.most)} at most, ${failed} failed`,
    'under 500 MB',
  )
  if (failed) console.log(lastLines(demo.data))
  const agent = connections(16)
  const bomb = zipSync({
    'unit.json': new Uint8Array(100 * 1024 * 1024),
    'states.json': new Uint8Array(100 * 1024 * 1024),
  })
  const form = (bytes: Uint8Array) =>
    Buffer.concat([
      Buffer.from('--x\r\ncontent-disposition: form-data; name="file"; filename="a.zip"\r\n\r\n'),
      bytes,
      Buffer.from('\r\n--x--\r\n'),
    ])
  const upload = (path: string, body: Uint8Array): Asked => ({
    path,
    method: 'POST',
    headers: { 'content-type': 'multipart/form-data; boundary=x', 'content-length': String(body.length) },
    body,
  })
  const hostile: Asked[] = [
    ...Array.from({ length: 6 }, () => upload('/api/archives', form(bomb))),
    ...Array.from({ length: 4 }, () => upload('/api/archives', form(new Uint8Array(60 * 1024 * 1024)))),
    ...Array.from({ length: 4 }, () =>
      upload('/api/sessions/1/import', form(new Uint8Array(7 * 1024 * 1024).fill(44))),
    ),
    ...Array.from({ length: 4 }, () => ({
      path: '/api/archives',
      method: 'POST',
      headers: { 'content-type': 'multipart/form-data; boundary=x' },
      body: new Uint8Array(64 * 1024 * 1024),
    })),
    ...Array.from({ length: 12 }, (_, i) => ({ path: `/patterns/rings/png?w=7680&h=${4320 - i}` })),
    ...Array.from({ length: 8 }, () => ({
      path: '/api/sessions/1/commands',
      ...json({ type: 'x'.repeat(120_000) }),
    })),
  ]
  const begin = performance.now()
  const statuses = new Map<number, number>()
  let going = true
  const health: number[] = []
  const looking = (async () => {
    while (going) {
      health.push((await ask(demo, agent, { path: '/api/health' })).took)
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
  })()
  await Promise.all(
    hostile.map(async (one) => {
      const { status } = await ask(demo, agent, one)
      statuses.set(status, (statuses.get(status) ?? 0) + 1)
    }),
  )
  going = false
  await looking
  agent.destroy()
  const after = memoryOf(demo)
  tell(
    'memory through the hostile run (packed bombs, large and endless bodies, pictures of 8K)',
    `${megabytes(after.most)} at most, ${megabytes(after.now)} after it, in ${ms(performance.now() - begin)}; answers ${[...statuses].map(([s, n]) => `${n} × ${s || 'hung up'}`).join(', ')}; health ${ms(quantile(health, 0.95))} for 95 %`,
    'under 500 MB, none 500',
  )
}

/** Bytes of each event that a reading that arrives makes. In: session, readings that it has already. */
export const eventBytes = async (demo: Demo, tell: Tell): Promise<void> => {
  const db = databaseOf(demo)
  const bench = demoBench(demo.benchUrl, demo.data)
  try {
    await bench.simulate({ speed: 0, onStand: 'OM55-31186' })
    for (const earlier of [0, 2_000]) {
      const begun = await startSession({ db, bench }, 2, { viewingCase: 'sdr-dark', baseMode: 'studio' })
      if (!begun.ok) throw new Error(begun.error)
      const id = begun.value
      const agent = connections(4)
      const command = (body: object) =>
        ask(demo, agent, { path: `/api/sessions/${id}/commands`, ...json(body) })
      const revision = async () => (await db.sessions.findByPk(id))!.revision
      const idle = async () => {
        while (await db.runs.findOne({ where: { sessionId: id, status: ['queued', 'running', 'waiting'] } }))
          await new Promise((resolve) => setTimeout(resolve, 50))
      }
      await command({ type: 'go', revision: await revision() })
      await idle()
      for (let n = 0; n < earlier; n += 500) {
        const lines = Array.from(
          { length: 500 },
          (_, i) => `Patch ${i};${i % 101};${i % 90};${i % 95};${i % 99}`,
        )
        const form = new FormData()
        form.set('file', new Blob([`Patch;Level;X;Y;Z\n${lines.join('\n')}\n`]), 'r.csv')
        form.set('what', 'readings')
        form.set('store', 'yes')
        await (
          await fetch(`${demo.address}/api/sessions/${id}/import`, { method: 'POST', body: form })
        ).text()
      }
      await bench.simulate({ speed: 40 })
      const events: Array<{ bytes: number; readings: boolean }> = []
      const stop = new AbortController()
      const listening = (async () => {
        const answer = await fetch(`${demo.address}/api/sessions/${id}/events`, { signal: stop.signal })
        const decoder = new TextDecoder()
        let held = ''
        for await (const piece of answer.body!) {
          held += decoder.decode(piece, { stream: true })
          for (let end = held.indexOf('\n\n'); end >= 0; end = held.indexOf('\n\n')) {
            const event = held.slice(0, end + 2)
            held = held.slice(end + 2)
            if (event.startsWith('event: session'))
              events.push({
                bytes: Buffer.byteLength(event),
                readings: /"readings":\[/.test(event) && !event.includes('"view":'),
              })
          }
        }
      })().catch(() => undefined)
      await command({ type: 'sweep', sweep: 'whole-mode', revision: await revision() })
      await idle()
      await new Promise((resolve) => setTimeout(resolve, 500))
      stop.abort()
      await listening
      agent.destroy()
      const readings = await db.readings.count({
        include: [],
        where: { runId: (await db.runs.findAll({ where: { sessionId: id } })).map((r) => r.id) },
      })
      const sizes = events.filter((e) => e.readings).map((e) => e.bytes)
      tell(
        `bytes of an event for readings that arrive, session of ${readings} readings`,
        sizes.length
          ? `${quantile(sizes, 0.5)} median, ${quantile(sizes, 0.95)} for 95 %, ${Math.max(...sizes)} at most, ${sizes.length} events`
          : 'none seen',
        'at most 5,000',
      )
    }
  } finally {
    await bench.simulate({ speed: 4 })
    await db.sequelize.close()
  }
}

/** Ticks of the processor that processes have used. */
const ticks = (pids: ReadonlyArray<number | undefined>): number =>
  pids.reduce<number>((sum, pid) => {
    if (pid === undefined) return sum
    const cells = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')
    return sum + Number(cells[11]) + Number(cells[12])
  }, 0)

/** Queries and share of the processor while twenty pages stand open and nothing happens. */
export const idlePages = async (demo: Demo, tell: Tell): Promise<void> => {
  const db = databaseOf(demo)
  const stop = new AbortController()
  try {
    const pages = Array.from({ length: 20 }, async () => {
      const answer = await fetch(`${demo.address}/api/sessions/1/events`, { signal: stop.signal })
      for await (const _ of answer.body!);
    })
    for (const page of pages) page.catch(() => undefined)
    await new Promise((resolve) => setTimeout(resolve, 5_000))
    const questions = async () => {
      const [row] = await db.sequelize.query<{ Value: string }>("SHOW GLOBAL STATUS LIKE 'Questions'", {
        type: QueryTypes.SELECT,
      })
      return Number(row!.Value)
    }
    const pids = ['ops/web', 'ops/pilot', 'runner/main', 'mariadbd'].map((part) => demo.pidOf(part))
    const [q, t] = [await questions(), ticks(pids)]
    const SECONDS = 20
    await new Promise((resolve) => setTimeout(resolve, SECONDS * 1000))
    const [queries, used] = [(await questions()) - q, ticks(pids) - t]
    tell(
      'idle, 20 pages open',
      `${(queries / SECONDS).toFixed(0)} queries a second, ${(used / SECONDS).toFixed(1)} % of one processor in all`,
      'one look for all pages',
    )
  } finally {
    stop.abort()
    await db.sequelize.close()
  }
}

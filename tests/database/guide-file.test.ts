import { mkdir, readFile, rm, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { strToU8, unzipSync, zipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readersAnswer } from '#app/readers'
import { runnerLoop } from '#bench/runner'
import { GUIDE_FILE, GuideFile } from '#core/guide/formats'
import type { Database } from '#db'
import { calibrate } from '#demo'
import { doJob, heavy, READERS_INDEX, readersFolder } from '#server/background'
import { type Context, forgetBench, type Result, withTemporaryFile } from '#server/base'
import { guideFileOf, guideFileSchema, readGuideFile } from '#server/files'
import { digestOf, guideAt, readingsBehind, withdrawGuide } from '#server/guide'
import { beginOn, freshDatabase, startBench } from '#tests/environment'

let db: Database
let bench: Awaited<ReturnType<typeof startBench>>
let ctx: Context
const leave = new AbortController()
let runner: Promise<void>
const slug = 'ostrel-maren-55'
const SURE = { because: 'Looked at.', note: 'Taken in.' }
let file: GuideFile
let text: string

const publicAt = async () => {
  const at = await guideAt(ctx, slug)
  if (at?.kind !== 'guide') throw new Error('No guide stands there')
  return at.guide
}
/** What taking in the bytes of a file comes to. */
const taken = (bytes: string | Uint8Array) =>
  withTemporaryFile(async (place) => {
    await writeFile(place, bytes)
    return (await doJob(ctx, { kind: 'import-guide', file: place })) as Result<number>
  })
const counts = async () => [
  await db.guides.count(),
  await db.guideImports.count(),
  await db.importedReadings.count(),
  await db.models.count(),
  await db.guideWords.count(),
]

beforeAll(async () => {
  db = await freshDatabase()
  bench = await startBench()
  ctx = { db, bench: bench.client }
  runner = runnerLoop(db, leave.signal)
  forgetBench()
  const session = await beginOn(ctx)
  await calibrate(ctx, session)
  const guide = await heavy.composeGuide(ctx, session)
  if (!guide.ok) throw new Error(guide.error)
  const published = await heavy.publishGuide(ctx, guide.value, SURE)
  if (!published.ok) throw new Error(published.error)
  text = JSON.stringify(await guideFileOf(ctx, await publicAt()))
  file = GuideFile.parse(JSON.parse(text))
})
afterAll(async () => {
  leave.abort()
  await runner
  await bench.stop()
  await db.sequelize.close()
})

describe('a guide as a file', () => {
  it('holds every reading that it rests on, each with the state of the display', () => {
    const ids = new Set(file.readings.map((r) => r.id))
    for (const of of file.cases) {
      expect(of.verification!.length).toBeGreaterThan(20)
      for (const id of [...of.verification!, ...of.values.flatMap((v) => v.readings)])
        expect(ids.has(id)).toBe(true)
    }
    expect(file.states[0]!.of).toBeUndefined()
    const states = new Set(file.states.map((s) => s.id))
    for (const r of file.readings) expect(states.has(r.state)).toBe(true)
    expect(readGuideFile(strToU8(text))).toMatchObject({ ok: true, value: { slug, digest: file.digest } })
  })
  it('is described by a schema that names its version', () => {
    const schema = JSON.parse(JSON.stringify(guideFileSchema())) as {
      title: string
      properties: Record<string, { const?: string }>
      required: string[]
    }
    expect(schema.title).toBe(GUIDE_FILE)
    expect(schema.properties.file!.const).toBe(GUIDE_FILE)
    for (const key of ['cases', 'readings', 'states', 'digest']) expect(schema.required).toContain(key)
  })
  it('is an archive with the same, as text and as a table', async () => {
    const row = (await db.guideRevisions.findOne({ where: {} }))!
    const archive = await withTemporaryFile(async (place) => {
      expect(await doJob(ctx, { kind: 'zip', revisionId: row.id, file: place })).toBe(true)
      return readFile(place)
    })
    const files = unzipSync(archive)
    expect(Object.keys(files).sort()).toEqual(['guide.json', 'guide.md', 'readings.csv', 'schema.json'])
    expect(JSON.parse(new TextDecoder().decode(files['guide.json']))).toEqual(JSON.parse(text))
    expect(new TextDecoder().decode(files['readings.csv']).trim().split('\r\n')).toHaveLength(
      file.readings.length + 1,
    )
    expect(await doJob(ctx, { kind: 'zip', revisionId: 9999, file: '/nowhere' })).toBe(false)
  })
})

describe('a file that is not what it says', () => {
  const edited = (change: (of: GuideFile) => void, signed = true): string => {
    const copy = structuredClone(file)
    change(copy)
    // Whoever forges a file may reckon its digest anew.
    return signed ? resigned(copy) : JSON.stringify(copy)
  }
  const resigned = (copy: GuideFile): string => {
    const {
      file: _f,
      slug: _s,
      revision: _r,
      publishedAt: _p,
      digest: _d,
      readings: _l,
      states: _t,
      ...document
    } = copy
    return JSON.stringify({ ...copy, digest: digestOf(document) })
  }
  it.each<[string, () => string | Uint8Array, RegExp]>([
    ['is empty', () => '', /file is not JSON/],
    ['is cut off', () => text.slice(0, text.length / 2), /file is not JSON/],
    ['is something else', () => '{"hello":1}', /no guide of Wexmar/],
    ['is a list', () => '[]', /no guide of Wexmar/],
    ['is nested too deep', () => `${'{"a":'.repeat(60)}1${'}'.repeat(60)}`, /nested too deep/],
    [
      'is newer',
      () => text.replace(GUIDE_FILE, 'wexmar-guide-file/9'),
      /newer version.*format 9, this one knows 1/,
    ],
    ['lacks a part', () => JSON.stringify({ ...file, readings: undefined }), /damaged: readings/],
    [
      'is a torn archive',
      () => new Uint8Array([0x50, 0x4b, 3, 4, 9, 9, 9]),
      /archive is damaged|no guide\.json/,
    ],
    ['is an archive of something else', () => zipSync({ 'a.txt': strToU8('x') }), /no guide\.json/],
    [
      'was changed after it was saved',
      () => edited((f) => (f.title = 'Mine'), false),
      /was changed after it was saved/,
    ],
    [
      'says another value than was read',
      () =>
        edited((f) => {
          const light = f.cases[0]!.values.find((v) => v.role === 'peak-luminance')!
          light.value = 99
          light.shown = '99'
        }),
      /does not follow from its readings.*stood elsewhere in the final sweep/,
    ],
    [
      'says better figures than its readings',
      () => edited((f) => (f.cases[0]!.after!.whiteError.average = 0.01)),
      /the error of greys comes to \d\.\d\d, not 0\.01/,
    ],
    [
      'has other readings',
      () =>
        edited((f) => {
          for (const r of f.readings) r.luminance *= 1.2
        }),
      /white comes to/,
    ],
    [
      'lacks readings',
      () => edited((f) => f.readings.splice(0, 5)),
      /\d+ of its readings are not in the file/,
    ],
    [
      'says nothing of its final sweep',
      () => edited((f) => (f.cases[0]!.verification = [])),
      /readings of its final sweep are not in the file/,
    ],
  ])('%s', async (_, make, why) => {
    const before = await counts()
    const result = await taken(make())
    expect(result).toMatchObject({ ok: false, error: expect.stringMatching(/Nothing was stored\.$/) })
    expect((result as { error: string }).error).toMatch(why)
    expect(await counts()).toEqual(before)
  })
  it('is refused before it is read where it would unpack to millions of lists, deep or beside each other', async () => {
    const before = await counts()
    const packed = (text: string) => zipSync({ 'guide.json': strToU8(text) })
    for (const [content, why] of [
      [`[${'[],'.repeat(7_000_000)}[]]`, /more values than any file/],
      [`${'['.repeat(9_000_000)}${']'.repeat(9_000_000)}`, /nested too deep/],
      [`[${'1,'.repeat(10_000_000)}1]`, /more values than any file/],
      ['x'.repeat(40_000_000), /too large/],
    ] as const) {
      const result = await taken(packed(content))
      expect(result).toMatchObject({ ok: false, error: expect.stringMatching(why) })
    }
    expect(await counts()).toEqual(before)
  })
  it('may be any part of a true one left out: nothing is ever half taken in', async () => {
    const before = await counts()
    for (const [key, value] of Object.entries(file)) {
      // An empty list that is left out is an empty list.
      if (Array.isArray(value) && value.length === 0) continue
      const { [key as keyof GuideFile]: _, ...rest } = file
      expect((await taken(JSON.stringify(rest))).ok, key).toBe(false)
    }
    expect(await counts()).toEqual(before)
  })
})

describe('a guide of another installation', () => {
  it('is a draft here, with its readings, until it is published', async () => {
    const elsewhere = JSON.parse(
      text.replaceAll('"Maren"', '"Marel"').replaceAll('Ostrel Maren', 'Ostrel Marel'),
    )
    const {
      file: _f,
      slug: _s,
      revision: _r,
      publishedAt: _p,
      digest: _d,
      readings: _l,
      states: _t,
      ...document
    } = elsewhere
    const result = await taken(JSON.stringify({ ...elsewhere, digest: digestOf(document) }))
    if (!result.ok) throw new Error(result.error)
    expect(await guideAt(ctx, 'ostrel-marel-55')).toBeUndefined()
    const draft = (await heavy.guideDraft(ctx, result.value))!
    expect(draft.findings.filter((f) => f.level === 'error')).toEqual([])
    expect(draft.findings.map((f) => f.rule)).toContain('measured-elsewhere')
    expect(draft.sections).toMatchObject([{ sessionId: null, status: 'draft', base: true }])
    expect(draft.document.summary).toBe(file.summary.replace('Ostrel Maren', 'Ostrel Marel'))
    // Twice is once.
    const before = await counts()
    expect(await taken(JSON.stringify({ ...elsewhere, digest: digestOf(document) }))).toEqual(result)
    expect(await counts()).toEqual(before)

    expect(await heavy.publishGuide(ctx, result.value, SURE)).toEqual({ ok: true, value: 'ostrel-marel-55' })
    const at = await guideAt(ctx, 'ostrel-marel-55')
    if (at?.kind !== 'guide') throw new Error('It is not public')
    const light = at.guide.document.cases[0]!.values.find((v) => v.role === 'peak-luminance')!
    const behind = (await readingsBehind(ctx, at.guide.document, 'sdr-dark', light.control))!
    expect(behind.length).toBe(light.readings.length)
    for (const r of behind) {
      expect(r.id).toBeLessThan(0)
      expect(r.value).not.toBeNull()
    }
    // What was taken in goes on to others in the same way.
    const again = await guideFileOf(ctx, at.guide)
    expect(readGuideFile(strToU8(JSON.stringify(again)))).toMatchObject({ ok: true })
    expect((await heavy.guideDraft(ctx, result.value))!.published).toBe(true)
  })
  it('may be written like another model: both are kept apart', async () => {
    const copy = structuredClone(file)
    copy.display.maker = 'Ostrel Maren'
    copy.display.model = ''
    expect((await taken(JSON.stringify(copy))).ok).toBe(false)
    copy.display.maker = 'Ostrel-'
    copy.display.model = 'Maren'
    const {
      file: _f,
      slug: _s,
      revision: _r,
      publishedAt: _p,
      digest: _d,
      readings: _l,
      states: _t,
      ...document
    } = copy
    const result = await taken(JSON.stringify({ ...copy, digest: digestOf(document) }))
    expect(result).toMatchObject({ ok: true })
    expect(await db.models.count({ where: { name: 'Maren' } })).toBe(2)
  })
  it('leaves what was measured here in its place', async () => {
    const { id } = (await db.guides.findOne({ where: { slug } }))!
    const before = await heavy.guideDraft(ctx, id)
    const result = await taken(text)
    expect(result).toEqual({ ok: true, value: id })
    const after = (await heavy.guideDraft(ctx, id))!
    expect(after.document).toEqual(before!.document)
    expect(after.words).toEqual(before!.words)
    expect(after.published).toBe(true)
  })
})

describe('pages for readers', () => {
  const dist = '.next-test/readers-test'
  const folder = readersFolder(process.cwd(), dist)
  const shared = globalThis as typeof globalThis & { wexmarContext?: Context }
  type Asked = Parameters<typeof readersAnswer>[1]
  const guideAsked = (of = slug, alone = false): Asked => ({ page: 'guide', slug: of, answer: '', alone })
  const get = (asked: Asked, headers: Record<string, string> = {}) =>
    readersAnswer(new Request('http://127.0.0.1/', { headers }), asked)
  /** Long enough that what is published is asked anew. */
  const later = () => new Promise((resolve) => setTimeout(resolve, 150))

  beforeAll(async () => {
    shared.wexmarContext = ctx
    process.env.WEXMAR_DIST = dist
    await mkdir(folder, { recursive: true })
    await writeFile(
      join(folder, READERS_INDEX),
      JSON.stringify({ sheet: 'sheet-A.css', whole: 'whole-A.css' }),
    )
    await writeFile(join(folder, 'whole-A.css'), 'h1{color:red}')
  })
  afterAll(async () => {
    delete process.env.WEXMAR_DIST
    delete shared.wexmarContext
    await rm(folder, { recursive: true, force: true })
  })

  it('are markup on which nothing runs, with what machines read of it', async () => {
    const answer = await get(guideAsked())
    const html = await answer.text()
    expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'text/html; charset=utf-8'])
    expect(html).toMatch(/^<!DOCTYPE html><html lang="en"><head>.*<title>Ostrel Maren 55 settings<\/title>/)
    expect(html).toContain('"@type":"TechArticle"')
    expect(html).toContain('<link rel="stylesheet" href="/readers/sheet-A.css"/>')
    expect(html).not.toMatch(/<script(?! type="application\/ld\+json")|\son\w+="/)
    expect(answer.headers.get('content-security-policy')).toMatch(
      /^default-src 'none'; script-src 'none'; style-src 'self';/,
    )
    expect(answer.headers.get('content-security-policy')).not.toMatch(/unsafe|nonce/)
  })
  it('are not sent again where the browser has them', async () => {
    const plain = await get(guideAsked())
    const again = await get(guideAsked(), { 'if-none-match': plain.headers.get('etag')! })
    expect([again.status, await again.text()]).toEqual([304, ''])
  })
  it('follow the theme that the visitor chose', async () => {
    const dark = await (await get(guideAsked(), { cookie: 'a=1; theme-desk=dark' })).text()
    expect(dark).toContain('data-theme="dark"')
    expect(await (await get(guideAsked())).text()).toContain('data-theme="paper"')
  })
  it('are saved as one file that needs nothing else and sends nothing', async () => {
    const answer = await get(guideAsked(slug, true))
    const html = await answer.text()
    expect(answer.headers.get('content-disposition')).toBe(`attachment; filename="${slug}.html"`)
    expect(html).toContain('<style>h1{color:red}</style>')
    expect(html).not.toMatch(/<form|<link[^>]+stylesheet|(href|src)="\/(?!\/)/)
    expect(html).toMatch(/href="http[^"]+\/guides"/)
  })
  it('say where nothing stands', async () => {
    for (const asked of [
      guideAsked('nowhere'),
      { page: 'print', slug: 'nowhere' },
      { page: 'revision', slug, number: 99 },
      { page: 'readings', slug, case: 'sdr-dark', control: '__proto__' },
    ] as const) {
      const answer = await get(asked)
      expect([answer.status, await answer.text()]).toEqual([404, expect.stringContaining('Nothing at this')])
    }
    for (const asked of [
      { page: 'print', slug },
      { page: 'revision', slug, number: 1 },
      { page: 'compare', a: slug, b: `${slug}@1`, search: '', at: 1 },
      { page: 'compare', a: '', b: '', search: '', at: 1 },
    ] as const)
      expect((await get(asked)).status).toBe(200)
  })
  it('stay as they were drawn until something is published or withdrawn, and while the database is away', async () => {
    const list: Asked = {
      page: 'list',
      search: '',
      at: 1,
      filter: { maker: '', panel: '', size: '', case: '', firmware: '' },
    }
    const before = await (await get(list)).text()
    expect(before).toContain('Ostrel Maren 55 settings')
    shared.wexmarContext = {
      ...ctx,
      db: { ...db, sequelize: { query: async () => Promise.reject(new Error('away')) } } as never,
    }
    await later()
    expect(await (await get(list)).text()).toBe(before)
    // One that was never drawn has nothing to go on from.
    const fault = await get({ ...list, search: 'never drawn' })
    expect(fault.status).toBeGreaterThanOrEqual(500)
    expect(await fault.text()).not.toMatch(/away<|SELECT/)
    shared.wexmarContext = ctx
    const guide = (await db.guides.findOne({ where: { slug } }))!
    expect((await withdrawGuide(ctx, guide.id, 'Measured with a wrong meter.')).ok).toBe(true)
    await later()
    expect(await (await get(list)).text()).not.toContain('Ostrel Maren 55 settings')
    expect(await (await get(guideAsked())).text()).toContain('Measured with a wrong meter.')
  })
})

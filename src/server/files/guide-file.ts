import { readFile, writeFile } from 'node:fs/promises'
import { strToU8, unzipSync, zipSync } from 'fflate'
import Papa from 'papaparse'
import type { Transaction } from 'sequelize'
import { z } from 'zod'
import type { State } from '#core/display'
import { slugOf } from '#core/guide/compose'
import type { CaseDocument, GuideDocument } from '#core/guide/document'
import {
  type FileState,
  fileVersion,
  GUIDE_FILE,
  GuideFile,
  type GuideReading,
  guideMarkdown,
  statesOf,
  whatDoesNotFollow,
} from '#core/guide/formats'
import { inTransaction } from '#db'
import type { Context } from '../base/context'
import { freeSlug } from '../base/free-slug'
import { bad, good, type Result } from '../base/result'
import { readingsWithStates } from '../guide/readings-behind'
import { digestOf, documentIn, linesOf } from '../guide/revisions'
import { guideFor } from '../guide/sections'
import { readJson } from '../model/sheets'

/** Largest file of a guide, bytes, and what may lie in an archive of it. */
export const LARGEST_GUIDE = 16 * 1024 * 1024
const LARGEST_CONTENT = 24 * 1024 * 1024

/** A published revision of a guide. */
interface Published {
  readonly slug: string
  readonly revision: number
  readonly publishedAt: string
  readonly document: GuideDocument
}

const idsIn = (of: CaseDocument): number[] => [
  ...of.values.flatMap((v) => v.readings),
  ...(of.verification ?? []),
]

/** What of a state is another than in the first. */
const differenceFrom = (base: State, values: State): State =>
  Object.fromEntries(Object.entries(values).filter(([key, value]) => base[key] !== value))

/** A published guide with everything that it rests on. */
export const guideFileOf = async (
  ctx: Context,
  { slug, revision, publishedAt, document }: Published,
): Promise<GuideFile> => {
  const readings = await readingsWithStates(ctx, document.cases.flatMap(idsIn))
  // States are told against that of the first reading, since most of them differ by a few clicks.
  const places = new Map<string, number>()
  const states: FileState[] = []
  const placeOf = (values: State): number => {
    const key = JSON.stringify(Object.entries(values).toSorted(([a], [b]) => (a < b ? -1 : 1)))
    const known = places.get(key)
    if (known !== undefined) return known
    const id = states.length
    const [base] = states
    const alike = base && Object.keys(base.values).every((k) => values[k] !== undefined)
    states.push(alike ? { id, of: base.id, values: differenceFrom(base.values, values) } : { id, values })
    places.set(key, id)
    return id
  }
  return {
    file: GUIDE_FILE,
    slug,
    revision,
    publishedAt,
    digest: digestOf(document),
    ...document,
    readings: readings.map(({ values, ...r }): GuideReading => ({ ...r, state: placeOf(values) })),
    states,
  }
}

/** The schema of the file as JSON Schema, for those who read it by program. */
export const guideFileSchema = (): object => ({
  title: GUIDE_FILE,
  ...z.toJSONSchema(GuideFile, { io: 'input', unrepresentable: 'any' }),
})

/** Readings of a guide as a table for people: RFC 4180, with a line of heads. */
const readingsTable = ({ readings }: GuideFile): string =>
  Papa.unparse(
    readings.map((r) => ({
      id: r.id,
      patch: r.patch,
      'level, 0…1': r.level,
      'luminance, cd/m²': r.luminance,
      x: r.x,
      y: r.y,
      'standard error, cd/m²': r.sigma,
      meter: r.meter,
      taken: r.takenAt,
    })),
    { escapeFormulae: true },
  )

/** Writes a published revision with its readings as data, with what was published before it, or as a ZIP archive. Out: whether there is such a revision. */
export const writeGuideFile = async (
  ctx: Context,
  { kind, revisionId, file }: { kind: 'json' | 'zip'; revisionId: number; file: string },
): Promise<boolean> => {
  const row = await ctx.db.guideRevisions.findByPk(revisionId, {
    attributes: ['id', 'guideId', 'number', 'publishedAt'],
  })
  const document = row && (await documentIn(ctx, row))
  const guide = row && (await ctx.db.guides.findByPk(row.guideId))
  if (!document || !guide) return false
  const publishedAt = new Date(row.publishedAt).toISOString()
  const whole = await guideFileOf(ctx, { slug: guide.slug, revision: row.number, publishedAt, document })
  if (kind === 'json') {
    const revisions = (await linesOf(ctx, guide.id)).filter((r) => r.number <= row.number)
    await writeFile(file, JSON.stringify({ revisions, ...whole }))
    return true
  }
  await writeFile(
    file,
    zipSync({
      'guide.json': strToU8(JSON.stringify(whole)),
      'guide.md': strToU8(guideMarkdown(document, row.number, publishedAt)),
      'readings.csv': strToU8(readingsTable(whole)),
      'schema.json': strToU8(JSON.stringify(guideFileSchema(), null, 2)),
    }),
  )
  return true
}

const NOTHING = 'Nothing was stored.'
const refused = (why: string) => bad(`${why} ${NOTHING}`)

/** Text of the guide in a file: the file itself, or what an archive holds of it. Out: text, or what is wrong. */
const textIn = (bytes: Uint8Array): Result<string> => {
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return good(new TextDecoder().decode(bytes))
  try {
    let tooLarge = false
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name !== 'guide.json') return false
        tooLarge = originalSize > LARGEST_CONTENT
        return !tooLarge
      },
    })
    if (tooLarge) return refused('What lies in the archive is too large.')
    const guide = files['guide.json']
    return guide ? good(new TextDecoder().decode(guide)) : refused('There is no guide.json in the archive.')
  } catch {
    // The library says in its own words what is torn.
    return refused('The archive is damaged.')
  }
}

/** The document within a file, without what stands beside it. */
const documentOf = ({
  file: _file,
  slug: _slug,
  revision: _revision,
  publishedAt: _publishedAt,
  digest: _digest,
  readings: _readings,
  states: _states,
  ...document
}: GuideFile): GuideDocument => document

const OWN_VERSION = fileVersion({ file: GUIDE_FILE })!

/** A guide in the bytes of a file: whole, of this version or an older one, and with figures that follow from its readings; or what is wrong with it. */
export const readGuideFile = (bytes: Uint8Array): Result<GuideFile> => {
  const text = textIn(bytes)
  if (!text.ok) return text
  const json = readJson(text.value, LARGEST_CONTENT)
  if (!json.ok) return refused(json.error)
  const said = fileVersion(json.value)
  if (said?.name !== OWN_VERSION.name)
    return refused(
      'The file is no guide of Wexmar with its readings: save it as data or archive from a guide’s page.',
    )
  if (said.version > OWN_VERSION.version)
    return refused(
      `The file was made by a newer version of Wexmar (format ${said.version}, this one knows ${OWN_VERSION.version}).`,
    )
  const parsed = GuideFile.safeParse(json.value)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    return refused(
      `The file is damaged: ${issue?.path.join('.') || 'it'}: ${issue?.message ?? 'not understood'}.`,
    )
  }
  const file = parsed.data
  if (digestOf(documentOf(file)) !== file.digest)
    return refused('The file was changed after it was saved: what it says is not what was published.')
  const wrong = whatDoesNotFollow(file)
  return wrong.length
    ? refused(`What the guide says does not follow from its readings. ${wrong.slice(0, 3).join(' ')}`)
    : good(file)
}

/** Keeps one case of a guide with its readings, which get numbers of their own here. */
const importCase = async (
  db: Context['db'],
  guideId: number,
  of: CaseDocument,
  guide: GuideFile,
  states: ReturnType<typeof statesOf>,
  transaction: Transaction,
): Promise<void> => {
  const row = await db.guideImports.create(
    {
      guideId: guideId,
      viewingCase: of.viewingCase.key,
      serial: of.display.serial,
      digest: guide.digest,
      document: of,
    },
    { transaction },
  )
  const wanted = new Set(idsIn(of))
  const own = guide.readings.filter((r) => wanted.has(r.id))
  await db.importedReadings.bulkCreate(
    own.map(({ id: _, state, ...reading }) => ({
      importId: row.id,
      document: { ...reading, state: states.get(state) ?? {} },
    })),
    { transaction },
  )
  // Rows of one statement are numbered in its order.
  const kept = await db.importedReadings.findAll({
    where: { importId: row.id },
    attributes: ['id'],
    order: ['id'],
    transaction,
  })
  const placed = new Map(own.map((r, i) => [r.id, -kept[i]!.id]))
  const here = (ids: readonly number[]) => ids.map((id) => placed.get(id)!)
  await row.update(
    {
      document: {
        ...of,
        ...(of.verification ? { verification: here(of.verification) } : {}),
        values: of.values.map((v) => ({ ...v, readings: here(v.readings) })),
      },
    },
    { transaction },
  )
}

/**
 * Takes a guide in from a file, whole or not at all: its cases become part of the guide of their model and size, and are not public until that is published.
 * In: place of the file. Out: id of the guide, or why not.
 */
export const importGuide = async (ctx: Context, file: string): Promise<Result<number>> => {
  const read = readGuideFile(await readFile(file))
  if (!read.ok) return read
  const guide = read.value
  const { maker, model, sizeInch } = guide.display
  const states = statesOf(guide.states)
  const { db } = ctx
  return inTransaction(db, async (transaction): Promise<Result<number>> => {
    const [known] = await db.models.findOrCreate({
      where: { maker, name: model },
      defaults: {
        maker,
        name: model,
        slug: await freeSlug(db, slugOf(`${maker} ${model}`, 'model'), transaction),
        panelKind: guide.cases[0]!.panelKind ?? 'lcd-edge-lit',
      },
      transaction,
    })
    for (const of of guide.cases) {
      const { region, firmware } = of.display
      await db.variants.findOrCreate({ where: { modelId: known.id, sizeInch, region }, transaction })
      await db.firmwares.findOrCreate({ where: { modelId: known.id, version: firmware }, transaction })
    }
    const page = await guideFor(db, known, sizeInch, transaction)
    const there = await db.guideImports.count({
      where: { guideId: page.id, digest: guide.digest },
      transaction,
    })
    // The same file twice is taken once.
    if (there) return good(page.id)
    for (const of of guide.cases) {
      await importCase(db, page.id, of, guide, states, transaction)
    }
    // Where a guide of this display was begun here already, its words stay.
    const begun = await db.guideSections.count({ where: { guideId: page.id }, transaction })
    for (const place of begun ? [] : (['title', 'summary'] as const))
      await db.guideWords.findOrCreate({
        where: { guideId: page.id, place },
        defaults: { guideId: page.id, place, body: guide[place], basis: '', version: 1 },
        transaction,
      })
    return good(page.id)
  })
}

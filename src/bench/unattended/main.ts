/** `bin/calibrate`: the whole route for one viewing case on a bench, unattended, without database or browser. */
import { appendFileSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import Papa from 'papaparse'
import { benchClient } from '#bench/client'
import { Policy, REFERENCE_POLICY, SHIPPED_POLICIES, ViewingCase } from '#core/judge'
import { drive } from './drive'
import { Learned, learnedFrom, wishOf } from './learned'
import { calibrationResult, readingsTable } from './result'

const USAGE = `Usage: bin/calibrate --bench URL --case CASE [--policy NAME] [--mode VALUE] [--after DIR] --out DIR

  --bench   address of a bench that keeps to docs/bench-protocol.md
  --case    ${ViewingCase.options.join(', ')}
  --policy  ${SHIPPED_POLICIES.map((p) => p.key).join(', ')}, or a file with a policy of your own
            (left out: ${REFERENCE_POLICY.key})
  --mode    picture mode to calibrate (left out: all are surveyed and the best is taken)
  --after   folder of an earlier case of the unit: what it learned is used, and what it keeps in the display’s
            memory is not overwritten
  --out     folder for result.json and the readings

Exit code 0: verified. 1: not verified, result.json says why. 2: nothing was begun.`

const fail = (why: string): never => {
  console.error(`${why}\n\n${USAGE}`)
  process.exit(2)
}

const options = (): {
  bench: string
  viewingCase: ViewingCase
  policy: Policy
  mode?: string
  after?: Learned
  out: string
} => {
  const text = { type: 'string' } as const
  let values: {
    bench?: string
    case?: string
    policy?: string
    mode?: string
    after?: string
    out?: string
    help?: boolean
  }
  try {
    values = parseArgs({
      options: {
        bench: text,
        case: text,
        policy: text,
        mode: text,
        after: text,
        out: text,
        help: { type: 'boolean', short: 'h' },
      },
    }).values
  } catch (error) {
    return fail((error as Error).message)
  }
  if (values.help) {
    console.log(USAGE)
    process.exit(0)
  }
  const { bench, out, mode } = values
  if (!bench || !URL.canParse(bench)) return fail('Say where the bench is: --bench URL.')
  if (!out) return fail('Say where the result goes: --out DIR.')
  const viewingCase = ViewingCase.safeParse(values.case)
  if (!viewingCase.success) return fail(`There is no viewing case “${values.case ?? ''}”.`)
  return {
    bench,
    viewingCase: viewingCase.data,
    policy: policyOf(values.policy),
    ...(mode === undefined ? {} : { mode }),
    ...(values.after === undefined ? {} : { after: learnedIn(values.after) }),
    out,
  }
}

/** What an earlier case passed on. */
const learnedIn = (folder: string): Learned => {
  const file = join(folder, 'learned.json')
  let document: unknown
  try {
    document = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    return fail(
      `${file} cannot be read: ${(error as Error).message}. --after takes the folder that an earlier case was written to.`,
    )
  }
  const parsed = Learned.safeParse(document)
  const issue = parsed.error?.issues[0]
  return (
    parsed.data ?? fail(`${file} is not what a case passes on: ${issue?.path.join('.')}: ${issue?.message}`)
  )
}

/** A policy by its key or name, or from a file. */
const policyOf = (wanted: string | undefined): Policy => {
  if (!wanted) return REFERENCE_POLICY
  const shipped = SHIPPED_POLICIES.find((p) => p.key === wanted || p.name === wanted)
  if (shipped) return shipped
  let text: string
  try {
    text = readFileSync(wanted, 'utf8')
  } catch {
    return fail(`There is no policy “${wanted}”, and no file of that name.`)
  }
  let document: unknown
  try {
    document = JSON.parse(text)
  } catch {
    return fail(`${wanted} is not JSON.`)
  }
  const parsed = Policy.safeParse(document)
  const issue = parsed.error?.issues[0]
  return parsed.data ?? fail(`${wanted} is not a policy: ${issue?.path.join('.')}: ${issue?.message}`)
}

const { bench, viewingCase, policy, mode, after: before, out } = options()
const running = join(out, 'readings.jsonl')
try {
  mkdirSync(out, { recursive: true })
  writeFileSync(running, '')
} catch (error) {
  fail(`${out} cannot be written to: ${(error as Error).message}`)
}
const leave = new AbortController()
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => leave.abort())

/** Written beside its place first, so that a reader never finds half of it. */
const write = (name: string, text: string) => {
  writeFileSync(join(out, `${name}.part`), text)
  renameSync(join(out, `${name}.part`), join(out, name))
}

const client = benchClient(bench)
const described = before ? await client.describe() : undefined
const serial = described?.ok ? (described.value.display?.serial ?? '') : ''
const outcome = await drive(
  client,
  {
    viewingCase,
    policy,
    ...(mode === undefined ? {} : { baseMode: mode }),
    ...(before ? wishOf(before, serial, viewingCase) : {}),
  },
  {
    say: (line) => console.log(line),
    keep: (reading) => appendFileSync(running, `${JSON.stringify(reading)}\n`),
    leave: leave.signal,
  },
)
if (!('verified' in outcome)) {
  console.error(outcome.stopped)
  write(
    'result.json',
    `${JSON.stringify({ format: 'wexmar-result/1', verified: false, stopped: outcome.stopped, case: viewingCase, policy, readings: 0, notDone: [{ what: 'everything', why: outcome.stopped }] }, null, 2)}\n`,
  )
  process.exit(1)
}
const { fields, data } = readingsTable(outcome.kept)
write(
  'readings.csv',
  `\uFEFF${Papa.unparse({ fields: [...fields], data: [...data] }, { escapeFormulae: true })}\r\n`,
)
const result = calibrationResult(outcome)
write('result.json', `${JSON.stringify(result, null, 2)}\n`)
write('learned.json', `${JSON.stringify(learnedFrom(outcome, before), null, 2)}\n`)
const { after } = result
console.log(
  result.verified && after
    ? `Verified: white ${after.luminance.toFixed(1)} cd/m², greyscale ΔE00 ${after.whiteError.average.toFixed(2)} on average, ${after.whiteError.worst.toFixed(2)} at worst, after ${result.readings} readings in ${Math.round(result.benchSeconds / 60)} minutes of the bench.`
    : `Not verified: ${result.stopped ?? 'the end state was not read'}. ${result.readings} readings are kept.`,
)
for (const sentence of result.worse) console.log(`Worse than before: ${sentence}`)
process.exit(result.verified ? 0 : 1)

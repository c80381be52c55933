/**
 * `npm run perf`: prints the figures that the product promises. Asserts nothing. `npm run perf -- pages scale` prints some of them:
 * calibration, colour, population, traits, hand, hdr, games, guides, start, pages, screen, commands, events, idle, modes, hostile, scale.
 */
import { spawnSync } from 'node:child_process'
import { existsSync, statSync } from 'node:fs'
import { chromium } from '@playwright/test'
import Color from 'colorjs.io'
import { differenceCiede2000, differenceItp } from 'culori'
import { D65, deltaE2000, deltaEItp, type Lab, pqEotf, type XYZ, xyToXyz } from '#core/colorimetry'
import { uniform } from '#core/random'
import { CHROMIUM } from '#tests/browser'
import { type Demo, dataDone, removeScratch, startDemo, wholeDemo } from '#tests/demo'
import { byHand } from './by-hand'
import { calibration, quantile } from './calibration'
import { games } from './games'
import { copying, guideInBrowser } from './guides'
import { hdrFilm } from './hdr'
import { hostileRequests } from './hostile'
import { eightModes, importTenThousand, millionReadings } from './large'
import { eventBytes, fiftyCommands, idlePages, memory, pagesUnderLoad } from './load'
import { population, traits } from './population'

interface Row {
  readonly what: string
  readonly measured: string
  readonly wanted: string
}
const rows: Row[] = []
const row = (what: string, measured: string, wanted: string) => {
  rows.push({ what, measured, wanted })
  console.log(`  ${what}: ${measured}   (wanted: ${wanted})`)
}
/** Calls a second of something that runs over a number of pairs. */
const perSecond = (count: number, run: () => void): number => {
  run()
  const begin = performance.now()
  let rounds = 0
  for (; performance.now() - begin < 600; rounds++) run()
  return (rounds * count) / ((performance.now() - begin) / 1000)
}
const million = (n: number) => `${(n / 1e6).toFixed(2)} million a second`
const ms = (n: number) => `${n.toFixed(0)} ms`
const seconds = (n: number) => `${(n / 1000).toFixed(1)} s`

/** Calls a second of our colour difference beside that of a general colour library, in one process. */
const colourDifference = () => {
  console.log('Colour difference')
  const next = uniform(1)
  const pairs = Array.from({ length: 20_000 }, (): [Lab, Lab] => [
    [100 * next(), 200 * next() - 100, 200 * next() - 100],
    [100 * next(), 200 * next() - 100, 200 * next() - 100],
  ])
  const named = pairs.map(([a, b]) => [a, b].map(([l, x, y]) => ({ mode: 'lab65' as const, l, a: x, b: y })))
  const theirs = differenceCiede2000()
  let sum = 0
  const ours = perSecond(pairs.length, () => {
    for (const [a, b] of pairs) sum += deltaE2000(a, b)
  })
  const general = perSecond(named.length, () => {
    for (const [a, b] of named) sum += theirs(a!, b!)
  })
  const objects = pairs.slice(0, 2_000).map((p) => p.map((lab) => new Color('lab-d65', [...lab])))
  const objectLibrary = perSecond(objects.length, () => {
    for (const [a, b] of objects) sum += a!.deltaE(b!, '2000')
  })
  row(
    'ΔE00 on typed tuples',
    `${million(ours)}, ${(ours / objectLibrary).toFixed(0)} times a general library of colour objects (${million(objectLibrary)}), ${(ours / general).toFixed(1)} times one of plain functions (${million(general)})`,
    Number.isFinite(sum) ? 'at least 10 times' : 'a number',
  )
}

/** The same of ΔE ITP, from absolute XYZ of lights between a tenth of a cd/m² and 4,000. */
const itpDifference = () => {
  console.log('Difference in ITP')
  const next = uniform(2)
  const light = (): XYZ => {
    const [X, Y, Z] = xyToXyz(D65, pqEotf(0.06 + 0.84 * next()))
    return [X * (0.8 + 0.4 * next()), Y, Z * (0.8 + 0.4 * next())]
  }
  const pairs = Array.from({ length: 20_000 }, (): [XYZ, XYZ] => [light(), light()])
  let sum = 0
  const ours = perSecond(pairs.length, () => {
    for (const [a, b] of pairs) sum += deltaEItp(a, b)
  })
  const theirs = differenceItp()
  const named = pairs.map((p) => p.map(([x, y, z]) => ({ mode: 'xyz65' as const, x, y, z })))
  const general = perSecond(named.length, () => {
    for (const [a, b] of named) sum += theirs(a!, b!)
  })
  const objects = pairs.slice(0, 2_000).map((p) => p.map((xyz) => new Color('xyz-abs-d65', [...xyz])))
  const objectLibrary = perSecond(objects.length, () => {
    for (const [a, b] of objects) sum += a!.deltaE(b!, 'ITP')
  })
  row(
    'ΔE ITP from absolute XYZ',
    `${million(ours)}, ${(ours / objectLibrary).toFixed(0)} times a general library of colour objects (${million(objectLibrary)}), ${(ours / general).toFixed(1)} times one of plain functions (${million(general)})`,
    Number.isFinite(sum) ? 'in one run' : 'a number',
  )
}

const startUp = async (env: Record<string, string>): Promise<Demo> => {
  console.log('Starting and ending')
  const beginning = Date.now()
  const first = await startDemo(env, 'demo', false)
  await (await fetch(first.address)).text()
  row(
    'first bin/demo, packages there: built where it must be, first page served',
    seconds(Date.now() - beginning),
    '20 s after the build',
  )
  while (!dataDone(first.output())) await new Promise((done) => setTimeout(done, 250))
  row(
    'the same until all demo data are made, nobody working',
    seconds(Date.now() - beginning),
    'as quick as it may be',
  )
  await first.stop()
  const begin = Date.now()
  const second = await startDemo(env)
  await (await fetch(second.address)).text()
  row('second bin/demo until the first page is served', seconds(Date.now() - begin), 'at most 15 s')
  return second
}

/** Server time of pages. Out: the 95th percentile of each. */
const timePages = async (demo: Demo, paths: readonly string[], count = 40): Promise<number[]> => {
  const worst: number[] = []
  for (const path of paths) {
    const times: number[] = []
    for (let i = 0; i < count + 5; i++) {
      const begin = performance.now()
      const response = await fetch(demo.address + path)
      await response.arrayBuffer()
      // The first few warm the process up.
      if (i >= 5) times.push(performance.now() - begin)
    }
    worst.push(quantile(times, 0.95))
    console.log(`  ${path}: ${ms(quantile(times, 0.5))} median, ${ms(quantile(times, 0.95))} for 95 %`)
  }
  return worst
}

/** Server time as a client on the same machine sees it, whole body included. */
const pages = async (demo: Demo) => {
  console.log('Pages, 40 requests each')
  const paths = [
    '/',
    '/models/ostrel-maren',
    '/models/ostrel-maren/learned',
    '/policies',
    '/units/1',
    '/units/2',
    '/sessions/1',
    '/desk/guides/1',
    '/guides',
    '/guides/ostrel-maren-55',
    '/guides/ostrel-maren-55.json',
    '/guides/ostrel-maren-55.md',
    '/guides/feed.xml',
    '/api/health',
  ]
  const worst = await timePages(demo, paths)
  row(
    'server time of every page in the path, slowest page',
    `${ms(Math.max(...worst))} for 95 %`,
    'at most 100 ms for 95 %',
  )
}

/** Pages for readers: server time and what they weigh. */
const guidePages = async (demo: Demo) => {
  console.log('Public guide')
  // So many that a pause of the process is not all that the figure tells.
  const [guide, list] = await timePages(
    demo,
    ['/guides/ostrel-maren-55', '/guides?q=Maren&case=sdr-dark'],
    400,
  )
  row('public guide of four cases, server time', `${ms(guide!)} for 95 %`, 'at most 20 ms')
  row('public list with search and filter', `${ms(list!)} for 95 %`, 'at most 50 ms')
  await guideInBrowser(demo, row)
}

/** From the moment at which the meter gave a reading to the moment at which it stands on the page. */
const onScreen = async (demo: Demo) => {
  console.log('Readings on the screen')
  const browser = await chromium.launch(CHROMIUM)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(`${demo.address}/units/2`)
    await page.getByLabel('Picture mode to calibrate').selectOption({ label: 'Studio' })
    await page.getByRole('button', { name: /Begin SDR/ }).click()
    await page.waitForURL('**/sessions/*')
    await page.locator('[data-ready]').waitFor()
    await page.keyboard.press('Space')
    const first = page.getByRole('heading', { name: /Check the signal|Default sweep/ })
    await first.waitFor({ timeout: 60_000 })
    if ((await first.textContent())?.includes('Feed')) await page.keyboard.press('Space')
    await page.getByRole('heading', { name: /Default sweep/ }).waitFor({ timeout: 60_000 })
    await page.evaluate(() => {
      const delays: number[] = []
      Object.assign(window, { delays })
      // What stands there already is no news.
      const seen = new Set(
        [...document.querySelectorAll<HTMLElement>('[data-reading]')].map((e) => e.dataset.reading ?? ''),
      )
      new MutationObserver(() => {
        for (const element of document.querySelectorAll<HTMLElement>('[data-reading]')) {
          const { reading = '', taken = '' } = element.dataset
          if (seen.has(reading)) continue
          seen.add(reading)
          // Painted by the second frame from now.
          requestAnimationFrame(() =>
            requestAnimationFrame(() => delays.push(Date.now() - new Date(taken).getTime())),
          )
        }
      }).observe(document.body, { childList: true, subtree: true })
    })
    await page.keyboard.press('Space')
    await page.locator('[data-step="levels"][data-run="none"]').waitFor({ timeout: 90_000 })
    await page.waitForTimeout(300)
    const delays = await page.evaluate(() => (window as unknown as { delays: number[] }).delays)
    row(
      'a reading on screen after the meter gave it',
      `${ms(quantile(delays, 0.5))} median, ${ms(Math.max(...delays))} at most, ${delays.length} readings`,
      'at most 500 ms',
    )
  } finally {
    await browser.close()
  }
}

/** Eight modes of sixty patches, from the key to the page that shows the last reading. */
const modes = async (demo: Demo) => {
  console.log('Eight modes')
  const { ms: took, readings } = await eightModes(demo)
  row(
    `8 modes × 60 patches on the simulated bench, ${readings} readings stored and shown`,
    seconds(took),
    'at most 10 s',
  )
}

/** A desk that has been at work for years: pages, files, backup and restore. */
const atScale = async (demo: Demo) => {
  console.log('A million readings')
  const desk = await millionReadings(demo)
  console.log(`  ${desk.readings} readings in the database`)
  await pagesUnderLoad(demo, desk, row)
  await memory(demo, desk, row)
  const imported = await importTenThousand(demo, 1)
  row(`importing ${imported.stored} readings`, seconds(imported.ms), 'at most 3 s')
  const file = `${demo.data}/perf-backup`
  const bin = (name: string, words: readonly string[]) => {
    const begin = performance.now()
    const done = spawnSync(`bin/${name}`, [...words], {
      env: { ...process.env, ...demo.env },
      encoding: 'utf8',
    })
    if (done.status !== 0) throw new Error(done.stdout + done.stderr)
    return performance.now() - begin
  }
  row(
    'bin/backup of a million readings, while it runs',
    seconds(bin('backup', [file])),
    'as quick as it may be',
  )
  const size = statSync(file).size / 1024 / 1024
  row(
    `bin/restore of it (${size.toFixed(0)} MB) in the place of what is there, which is backed up first`,
    seconds(bin('restore', [file, '--replace'])),
    'as quick as it may be',
  )
}

const asked = new Set(process.argv.slice(2))
const wants = (part: string) => asked.size === 0 || asked.has(part)
if (wants('calibration')) await calibration(row)
if (wants('colour')) colourDifference()
if (wants('colour') || wants('hdr')) itpDifference()
if (wants('population')) await population(row)
if (wants('traits')) await traits(row)
if (wants('hand')) await byHand(row)
if (wants('hdr')) await hdrFilm(row)
if (wants('games')) await games(row)
if (wants('guides')) await copying(row)
/** Parts that need no demo. */
const PURE: ReadonlySet<string> = new Set(['calibration', 'colour', 'population', 'traits', 'hand', 'hdr'])
/** Figures that need a running demo. */
const withDemo = async () => {
  const env = { ...(await wholeDemo()), WEXMAR_BENCH_SPEED: '4' }
  const demo = wants('start') ? await startUp(env) : await startDemo(env)
  try {
    if (wants('pages')) await pages(demo)
    if (wants('pages') || wants('guides')) await guidePages(demo)
    if (wants('screen')) await onScreen(demo)
    if (wants('commands')) await fiftyCommands(demo, row)
    if (wants('events')) await eventBytes(demo, row)
    if (wants('idle')) await idlePages(demo, row)
    if (wants('modes')) await modes(demo)
    if (wants('hostile')) await hostileRequests(demo, row)
    if (wants('scale')) await atScale(demo)
  } finally {
    const pids = ['mariadbd', 'simulated/main', 'runner/main', 'ops/pilot', 'ops/web'].map((part) =>
      demo.pidOf(part),
    )
    const begin = Date.now()
    await demo.stop()
    const alive = () => pids.some((pid) => pid !== undefined && existsSync(`/proc/${pid}`))
    while (alive() && Date.now() - begin < 30_000) await new Promise((resolve) => setTimeout(resolve, 20))
    row('SIGTERM until everything is gone', seconds(Date.now() - begin), 'at most 5 s')
    removeScratch(env)
  }
}
if (asked.size === 0 || [...asked].some((part) => !PURE.has(part))) await withDemo()
const width = Math.max(...rows.map((r) => r.what.length))
console.log('\nFigures')
for (const r of rows) console.log(`${r.what.padEnd(width)}  ${r.measured}  (${r.wanted})`)

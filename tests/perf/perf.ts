/** `npm run perf`: prints the figures that the product promises. Asserts nothing. */
import { existsSync } from 'node:fs'
import { chromium } from '@playwright/test'
import { differenceCiede2000 } from 'culori'
import { MAREN, makeUnit, uniform } from '#bench/simulated'
import { deltaE2000, type Lab } from '#core/colorimetry'
import { planRoute } from '#core/derive'
import { CHROMIUM } from '#tests/browser'
import { type Demo, removeScratch, scratchEnvironment, startDemo } from '#tests/demo'
import { bestReachable, rehearse, trueGreyError } from '#tests/rehearsal'

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
const quantile = (values: readonly number[], q: number): number => {
  const sorted = [...values].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.ceil(q * sorted.length) - 1)] ?? Number.NaN
}
const ms = (n: number) => `${n.toFixed(0)} ms`
const seconds = (n: number) => `${(n / 1000).toFixed(1)} s`

const UNITS = 60

/** How near the route comes to the best, and how many readings it takes, on units that differ. */
const calibration = () => {
  console.log(`Calibration, ${UNITS} simulated units`)
  const gaps: number[] = []
  const greenGaps: number[] = []
  const readings: number[] = []
  const white: number[] = []
  const planning: number[] = []
  for (let seed = 1; seed <= UNITS; seed++) {
    const unit = makeUnit(MAREN, seed)
    const done = rehearse(unit, seed * 7)
    const { state } = done.facts
    const reached = trueGreyError(unit, state)
    gaps.push(reached - bestReachable(unit, state))
    if (seed <= 10) greenGaps.push(reached - bestReachable(unit, state, ['red', 'green', 'blue'], 4))
    readings.push(done.readings)
    white.push(
      Math.abs(done.facts.readings.findLast((r) => r.patch.key === 'grey-100')!.xyz[1] / 100 - 1) * 100,
    )
    const begin = performance.now()
    planRoute(done.facts)
    planning.push(performance.now() - begin)
  }
  row(
    'readings for luminance and two-point white, both sweeps included',
    `${quantile(readings, 0.5)} median, ${Math.max(...readings)} at most`,
    'at most 45',
  )
  row(
    'average ΔE00 above the best whole-click setting, green left alone',
    `${quantile(gaps, 0.5).toFixed(3)} median, ${quantile(gaps, 0.95).toFixed(3)} for 95 %, ${Math.max(...gaps).toFixed(3)} at most`,
    'at most 0.2',
  )
  row(
    'the same against settings that may move green too (10 units)',
    `${quantile(greenGaps, 0.5).toFixed(3)} median, ${Math.max(...greenGaps).toFixed(3)} at most`,
    'no figure; for the record',
  )
  row(
    'white away from 100 cd/m²',
    `${quantile(white, 0.5).toFixed(1)} % median, ${Math.max(...white).toFixed(1)} % at most`,
    'no figure; a click is 3.5 %',
  )
  row(
    'planning the route between two readings',
    `${ms(quantile(planning, 0.5))} median, ${ms(quantile(planning, 0.95))} for 95 %`,
    'no figure',
  )
}

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
  const perSecond = (run: () => void) => {
    run()
    const begin = performance.now()
    let rounds = 0
    for (; performance.now() - begin < 600; rounds++) run()
    return (rounds * pairs.length) / ((performance.now() - begin) / 1000)
  }
  const ours = perSecond(() => {
    for (const [a, b] of pairs) sum += deltaE2000(a, b)
  })
  const general = perSecond(() => {
    for (const [a, b] of named) sum += theirs(a!, b!)
  })
  const million = (n: number) => `${(n / 1e6).toFixed(2)} million a second`
  row(
    'ΔE00 on typed tuples',
    `${million(ours)}, ${(ours / general).toFixed(1)} times a general library's ${million(general)}`,
    Number.isFinite(sum) ? 'at least 10 times' : 'a number',
  )
}

const startUp = async (env: Record<string, string>): Promise<Demo> => {
  console.log('Starting and ending')
  const first = await startDemo(env)
  await first.stop()
  const begin = Date.now()
  const second = await startDemo(env)
  await (await fetch(second.address)).text()
  row('second bin/demo until the first page is served', seconds(Date.now() - begin), 'at most 15 s')
  return second
}

/** Server time as a client on the same machine sees it, whole body included. */
const pages = async (demo: Demo) => {
  console.log('Pages, 40 requests each')
  const paths = [
    '/',
    '/models/ostrel-maren',
    '/units/1',
    '/units/2',
    '/sessions/1',
    '/sessions/1/guide',
    '/guides',
    '/guides/ostrel-maren-55-sdr-dark',
    '/guides/ostrel-maren-55-sdr-dark.json',
    '/guides/ostrel-maren-55-sdr-dark.md',
    '/guides/feed.xml',
    '/api/health',
  ]
  const worst: number[] = []
  for (const path of paths) {
    const times: number[] = []
    for (let i = 0; i < 45; i++) {
      const begin = performance.now()
      const response = await fetch(demo.address + path)
      await response.arrayBuffer()
      // The first few warm the process up.
      if (i >= 5) times.push(performance.now() - begin)
    }
    worst.push(quantile(times, 0.95))
    console.log(`  ${path}: ${ms(quantile(times, 0.5))} median, ${ms(quantile(times, 0.95))} for 95 %`)
  }
  row(
    'server time of every page in the path, slowest page',
    `${ms(Math.max(...worst))} for 95 %`,
    'at most 100 ms for 95 %',
  )
}

/** From the moment at which the meter gave a reading to the moment at which it stands on the page. */
const onScreen = async (demo: Demo) => {
  console.log('Readings on the screen')
  const browser = await chromium.launch(CHROMIUM)
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
    await page.goto(`${demo.address}/units/2`)
    await page.getByRole('button', { name: /Begin SDR/ }).click()
    await page.waitForURL('**/sessions/*')
    await page.locator('[data-ready]').waitFor()
    await page.keyboard.press('Space')
    await page.getByRole('heading', { name: /Factory sweep/ }).waitFor()
    await page.evaluate(() => {
      const delays: number[] = []
      Object.assign(window, { delays })
      const seen = new Set<string>()
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
    await page.locator('[data-station="luminance"][data-run="none"]').waitFor({ timeout: 90_000 })
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

const env = { ...(await scratchEnvironment()), WEXMAR_BENCH_SPEED: '4' }
calibration()
colourDifference()
const demo = await startUp(env)
try {
  await pages(demo)
  await onScreen(demo)
} finally {
  const pids = ['mariadbd', 'simulated/main', 'runner/main', 'ops/web'].map((part) => demo.pidOf(part))
  const begin = Date.now()
  await demo.stop()
  const alive = () => pids.some((pid) => pid !== undefined && existsSync(`/proc/${pid}`))
  while (alive() && Date.now() - begin < 30_000) await new Promise((resolve) => setTimeout(resolve, 20))
  row('SIGTERM until everything is gone', seconds(Date.now() - begin), 'at most 5 s')
  removeScratch(env)
}
const width = Math.max(...rows.map((r) => r.what.length))
console.log('\nFigures')
for (const r of rows) console.log(`${r.what.padEnd(width)}  ${r.measured}  (${r.wanted})`)

import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import AxeBuilder from '@axe-core/playwright'
import { expect, type Page, test as plain } from '@playwright/test'
import { demoBench, lastLines } from '#tests/demo'

export const ADDRESS = () => process.env.WEXMAR_TEST_ADDRESS ?? ''
export const bench = () => demoBench(process.env.WEXMAR_TEST_BENCH ?? '', process.env.WEXMAR_TEST_DATA ?? '')

/** A test that tells, where it fails, what the page showed and what it had asked the server, so that a log is enough to see why. */
export const test = plain.extend<{ witness: undefined }>({
  witness: [
    async ({ page }, use, info) => {
      const asked: string[] = []
      page.on('request', (r) => {
        if (r.method() === 'POST') asked.push(`> ${new URL(r.url()).pathname} ${r.postData()?.slice(0, 120)}`)
      })
      page.on('response', async (r) => {
        if (r.request().method() !== 'POST') return
        const said = /"error":"[^"]*"/.exec(await r.text().catch(() => ''))?.[0] ?? ''
        asked.push(`< ${r.status()} ${said}`)
      })
      page.on('pageerror', (e) => asked.push(`error on the page: ${e.message}`))
      await use(undefined)
      if (info.status === info.expectedStatus) return
      const seen = await page
        .locator('main')
        .first()
        .textContent({ timeout: 2_000 })
        .catch(() => null)
      console.log(
        `${page.url()}\nasked last:\n${asked.slice(-8).join('\n')}\nshown:\n${seen?.slice(0, 1500)}\nprinted last:\n${lastLines(process.env.WEXMAR_TEST_DATA ?? '')}`,
      )
    },
    { auto: true },
  ],
})

/** Begins a fresh session on unit 2 and opens its bench. In: target in cd/m²; mode, or nothing for a survey; policy. */
export const beginSession = async (
  page: Page,
  { luminance = '100', mode = 'Studio', policy = 'Strict reference' } = {},
): Promise<void> => {
  await page.goto(`${ADDRESS()}/units/2`)
  await page.getByLabel('Viewing case', { exact: true }).selectOption('sdr-dark')
  await page.getByLabel('Policy', { exact: true }).selectOption({ label: policy })
  await page.getByLabel('White, cd/m²').fill(luminance)
  if (mode) await page.getByLabel('Picture mode to calibrate').selectOption({ label: mode })
  await page.getByRole('button', { name: /Begin (SDR, dark room|it again)/ }).click()
  await page.waitForURL('**/sessions/*')
  await ready(page)
}

/** Publishes the draft of a guide, with the sentences that it asks for. */
export const publish = async (page: Page): Promise<void> => {
  for (const label of ['Why there is a new revision', /^Why it is right to publish/]) {
    const field = page.getByLabel(label)
    if (await field.isVisible()) await field.fill('Measured on this unit, as the page says.')
  }
  await page.getByRole('button', { name: /^Publish revision/ }).click()
}

/** Waits until the page listens to keys. */
export const ready = (page: Page) => page.locator('[data-ready]').waitFor()

/** Presses a key of the bench as soon as no answer of the server is on its way: its buttons are open to a pointer by then, too. */
export const press = async (page: Page, key: string): Promise<void> => {
  await page.locator('main > section[aria-busy="false"]').waitFor()
  await page.keyboard.press(key)
}

/** Waits until nothing runs. */
export const idle = (page: Page) =>
  expect(page.locator('[data-run="none"][aria-busy="false"]')).toBeVisible({ timeout: 180_000 })

/** Presses Space and waits until what it began has ended. In: how many more readings the reading log must then show at least. */
export const takeStep = async (page: Page): Promise<void> => {
  const before = await page.locator('main h1').textContent()
  await press(page, 'Space')
  await expect(page.locator('main h1')).not.toHaveText(before ?? '')
  await idle(page)
}

/**
 * Prepares the display and takes its feed on trust: the next thing is the factory sweep. Out: readings that stand on the reading log by then, and
 * those that the sweep will add; what a survey of the unit has read already is not read twice.
 */
export const prepare = async (page: Page): Promise<{ before: number; sweep: number }> => {
  const title = page.locator('main h1')
  await takeStep(page)
  // The feed was checked a moment ago where another test did it.
  if ((await title.textContent())?.includes('Check the signal')) await press(page, 'n')
  await expect(title).toContainText('Default sweep')
  const patches = Number(/(\d+) patches/.exec((await title.textContent()) ?? '')?.[1])
  expect(patches).toBeGreaterThan(10)
  // The control patch comes at the end.
  return { before: (await log(page)).length, sweep: patches + 1 }
}

/** Headings of an adjustment of white balance: its controls by name, or how many values there are where they are more than a heading holds. */
export const GAINS = /Gain|Cut|\d values/

/** Goes on as proposed until the heading says something. Out: the headings on the way. */
export const goUntil = async (page: Page, wanted: RegExp, most = 60): Promise<string[]> => {
  const way: string[] = []
  for (let i = 0; i < most; i++) {
    await idle(page)
    const words = (await page.locator('main h1').textContent()) ?? ''
    if (wanted.test(words)) return way
    way.push(words)
    const first = page.locator('main ol .key').filter({ hasText: /^1$/ })
    const answer = (await page.locator('[data-step="processing"]').count()) > 0 && (await first.count()) > 0
    await press(page, answer ? '1' : 'Space')
    await expect(page.locator('main h1')).not.toHaveText(words)
  }
  throw new Error(`It never came to ${wanted}: ${way.join(' | ')}`)
}

/** Readings on the reading log, as they stand there. */
export const log = (page: Page): Promise<string[]> => page.locator('[data-reading]').allTextContents()

/** Step that is at hand. */
export const step = (page: Page) => page.locator('[data-step]').getAttribute('data-step')

/** Process number of a child of the demo under test, by a part of its command line. */
export const pidOf = (part: string): number => {
  const file = join(process.env.WEXMAR_TEST_DATA ?? '', 'processes.json')
  const pids = JSON.parse(readFileSync(file, 'utf8')) as number[]
  const found = pids.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(part))
  if (!found) throw new Error(`The demo has no process ${part}`)
  return found
}

/** Nothing on the page stands in the way of people who cannot see or point. */
export const clean = async (page: Page): Promise<void> => {
  const found = await new AxeBuilder({ page }).analyze()
  expect(
    found.violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`),
  ).toEqual([])
}

import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, type Page } from '@playwright/test'
import { benchClient } from '#bench/client'

export const ADDRESS = () => process.env.WEXMAR_TEST_ADDRESS ?? ''
export const bench = () => benchClient(process.env.WEXMAR_TEST_BENCH ?? '')

/** Begins a fresh session on unit 2 and opens its bench. */
export const beginSession = async (page: Page, luminance = '100'): Promise<void> => {
  await page.goto(`${ADDRESS()}/units/2`)
  await page.getByLabel('White, cd/m²').fill(luminance)
  await page.getByRole('button', { name: /Begin SDR, dark room/ }).click()
  await page.waitForURL('**/sessions/*')
  await ready(page)
}

/** Waits until the page listens to keys. */
export const ready = (page: Page) => page.locator('[data-ready]').waitFor()

/** Waits until nothing runs. */
export const idle = (page: Page) => expect(page.locator('[data-run="none"]')).toBeVisible({ timeout: 60_000 })

/** Presses Space and waits until what it began has ended. In: how many more readings the tape must then show at least. */
export const step = async (page: Page): Promise<void> => {
  const before = await page.locator('main h1').textContent()
  await page.keyboard.press('Space')
  await expect(page.locator('main h1')).not.toHaveText(before ?? '')
  await idle(page)
}

/** Readings on the tape, as they stand there. */
export const tape = (page: Page): Promise<string[]> => page.locator('[data-reading]').allTextContents()

/** Station that is at hand. */
export const station = (page: Page) => page.locator('[data-station]').getAttribute('data-station')

/** Process number of a child of the demo under test, by a part of its command line. */
export const pidOf = (part: string): number => {
  const file = join(process.env.WEXMAR_TEST_DATA ?? '', 'processes.json')
  const pids = JSON.parse(readFileSync(file, 'utf8')) as number[]
  const found = pids.find((pid) => readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(part))
  if (!found) throw new Error(`The demo has no process ${part}`)
  return found
}

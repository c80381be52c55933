import { expect } from '@playwright/test'
import { ADDRESS, bench, clean, goUntil, press, ready, takeStep, test } from './bench-page'

test.afterEach(async () => {
  await bench().simulate({ faults: [], speed: 12 })
})

test('a source and a socket are entered, and the planner says what arrives and what to give up', async ({
  page,
}) => {
  await page.goto(`${ADDRESS()}/models/anvik-pelt-q/inputs`)
  const save = page.getByRole('button', { name: 'Save what it takes' })
  await page.getByLabel(/^Sizes and rates that it takes/).fill('2560 by 1440 at 144')
  await save.click()
  await expect(page.getByText(/“2560 by 1440 at 144” is not a size with its rates/)).toBeVisible()
  await page.getByLabel(/^Sizes and rates that it takes/).fill('2560 × 1440: 60, 120, 144')
  await page.getByLabel('Variable refresh, Hz').fill('120 to 48')
  await save.click()
  await expect(page.getByText(/slowest and the fastest rate/)).toBeVisible()
  await page.getByLabel('Variable refresh, Hz').fill('48 to 144')
  await save.click()
  await expect(page.getByText('Saved.')).toBeVisible()
  await page.getByLabel('Label of the socket').fill('Desk input')
  await page.getByLabel('Fastest link').selectOption('tmds-18')
  await page.getByRole('button', { name: 'Save this socket' }).click()
  await expect(page.getByRole('listitem').filter({ hasText: 'Desk input' })).toContainText('TMDS, 18 Gb/s')
  await clean(page)

  await page.goto(`${ADDRESS()}/signal-path`)
  await page.getByLabel('Display').selectOption({ label: 'Anvik Pelt Q' })
  await page.getByLabel('Source').selectOption({ label: 'Desk computer' })
  await page.getByRole('button', { name: 'Plan' }).click()
  await page.getByLabel('Socket').selectOption({ label: 'Desk input' })
  await page.getByLabel('For', { exact: true }).selectOption('desktop')
  await page.getByRole('button', { name: 'Plan' }).click()
  const row = page.getByRole('row', { name: /2560 × 1440, 144 Hz/ })
  await expect(row).toContainText('8 bit, 4:4:4')
  await row.getByRole('link', { name: /10 bit, 4:4:4/ }).click()
  await expect(page.getByRole('heading', { name: /10 bit, 4:4:4: does not fit/ })).toBeVisible()
  await expect(page.getByRole('row', { name: /Pixel clock/ })).toContainText('586.586 MHz')
  await expect(page.getByRole('listitem').filter({ hasText: '8 bit, 4:4:4 fits' })).toBeVisible()
  await clean(page)
})

test('a game case asks before the screen flashes, shows latency by option, and can do without', async ({
  page,
}) => {
  test.setTimeout(600_000)
  const begin = async () => {
    await page.goto(`${ADDRESS()}/units/2`)
    await page.getByLabel('Viewing case', { exact: true }).selectOption('sdr-game')
    await page.getByLabel('Policy', { exact: true }).selectOption({ label: 'Strict reference' })
    await page.getByLabel('Picture mode to calibrate').selectOption({ label: 'Arena' })
    await page.getByRole('button', { name: /Begin (SDR game|it again)/ }).click()
    await page.waitForURL('**/sessions/*')
    await ready(page)
    await bench().simulate({ speed: 0 })
    await takeStep(page)
    await takeStep(page)
    await expect(page.locator('main h1')).toContainText('May the screen flash?')
    await expect(page.getByText(/photosensitive people/)).toBeVisible()
  }
  await begin()
  await clean(page)
  await press(page, 'Space')
  await expect(page.locator('main h1')).toContainText('Latency by rate and option')
  await goUntil(page, /Default sweep/)
  await page.getByRole('tab', { name: 'Games' }).click()
  const table = page.getByRole('table', { name: /Latency, ms/ })
  // “Rush” helps at 60 Hz alone.
  await expect(table.getByRole('row', { name: /“Rush” On/ })).toContainText('no help')
  await expect(page.getByText(/“Rush” On saves \d+ ms at 60 Hz, and nothing at/)).toBeVisible()
  await clean(page)

  await begin()
  await press(page, 'n')
  await expect(page.locator('main h1')).not.toContainText('May the screen flash?')
  await expect(page.locator('main h1')).toContainText(/Quick response|Read/)
})

import { readFileSync } from 'node:fs'
import { expect } from '@playwright/test'
import { PATCHES } from '#core/measure'
import {
  ADDRESS,
  beginSession,
  bench,
  clean,
  idle,
  log,
  prepare,
  press,
  ready,
  takeStep,
  test,
} from './bench-page'

test.afterEach(async () => {
  await bench().simulate({ faults: [], speed: 12, onStand: 'OM55-31186', displayOnFor: 3600 })
})

/** What the simulated display shows of the patch that is asked for, as a person would read it off a meter. */
const readOff = async (codes: string): Promise<string> => {
  const signal = codes.split(' ').map((c) => (Number(c) / 4 - 16) / 219) as [number, number, number]
  const inside = signal.map((s) => Math.min(1, Math.max(0, s))) as [number, number, number]
  await bench().show({ key: 'asked', label: 'asked', signal: inside })
  const read = await bench().read({ slot: 'lcd-array' })
  if (!read.ok) throw new Error(read.failure.message)
  return (read.value.xyz as number[]).map((v) => String(v).replace('.', ',')).join('  ')
}

test('a reviewer with a meter and a remote, and nothing else, goes from preparing to the first move', async ({
  page,
}) => {
  await bench().simulate({ speed: 0 })
  await page.goto(`${ADDRESS()}/units/2`)
  await page.getByLabel('Viewing case', { exact: true }).selectOption('sdr-dark')
  await page.getByLabel('Picture mode to calibrate').selectOption({ label: 'Studio' })
  await page.getByText(/^Equipment:/).click()
  for (const part of ['Settings are made by', 'Patches are shown by', 'The meter is read by'])
    await page.getByLabel(part).selectOption('hand')
  await page.getByRole('button', { name: /Begin (SDR|it again)/ }).click()
  await expect(page.getByText(/Say which meter you read/)).toBeVisible()
  await expect(page.getByText(/Nothing was sent.*that was typed stays/)).toBeVisible()
  await page.getByLabel(/^Meter, where/).fill('Ferrand Lux One, 88')
  await page.getByRole('button', { name: /Begin (SDR|it again)/ }).click()
  await page.waitForURL('**/sessions/*')
  await ready(page)

  await press(page, 'Space')
  await expect(page.locator('main h1')).toContainText('Reset “Studio”')
  await clean(page)
  await press(page, 'Space')
  await expect(page.locator('main h1')).toContainText('Scene')
  await press(page, 'Space')
  // Automatic processing is named next, one control after the other.
  for (let i = 0; i < 12 && (await page.locator('[data-run="none"]').count()) === 0; i++) {
    const words = await page.locator('main h1').textContent()
    await press(page, 'Space')
    await expect(page.locator('main h1')).not.toHaveText(words ?? '')
    await page.locator('[data-run="asking"], [data-run="none"]').waitFor()
  }
  await expect(page.locator('main h1')).toContainText('Check the signal')
  await press(page, 'n')
  await bench().reset()
  for (const [key, value] of [
    ['scene', 'studio'],
    ['curve-lift', 'off'],
    ['room-eye', 'off'],
    ['thrift', 'off'],
  ] as const)
    await bench().set(key, value)
  await expect(page.locator('main h1')).toContainText('Default sweep')
  await press(page, 'Space')
  await expect(page.locator('main h1')).toContainText('100 %')
  await clean(page)

  const field = page.getByRole('textbox', { name: /Reading of 100 %/ })
  await expect(field).toBeFocused()
  await field.fill('bright')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('alert').filter({ hasText: 'Line 1' })).toContainText('Nothing was stored')
  await expect(field).toHaveValue('bright')
  for (let i = 0; i < PATCHES.sdr.caseByHand.length; i++) {
    const asked = page.locator('#typed')
    await expect(asked).toBeFocused()
    const codes = await page.locator('main section .num').first().textContent()
    const before = (await log(page)).length
    await asked.fill(await readOff(codes ?? ''))
    await page.keyboard.press('Enter')
    await expect.poll(async () => (await log(page)).length).toBe(before + 1)
  }
  await expect(page.locator('main h1')).toContainText('Depth')
  await page.getByRole('tab', { name: 'Greyscale' }).click()
  await expect(page.getByText(/leans to blue/)).toBeVisible()
  await page.locator('[data-reading]').first().click()
  await expect(page.getByRole('dialog')).toContainText('typed by a person')
  await expect(page.getByRole('dialog')).toContainText('Ferrand Lux One, 88')
})

test('the page on the display under test follows the run by itself', async ({ page, browser }) => {
  await beginSession(page)
  const session = page.url().split('/').pop()
  await press(page, 'd')
  await page.getByLabel('Patches are shown by').selectOption('page')
  await clean(page)
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('SDR, 8 bit, full, browser page')).toBeVisible()
  await press(page, 'Space')
  await expect(page.getByText(/The patch page is not open on the display/)).toBeVisible()
  const other = await (await browser.newContext({ viewport: { width: 960, height: 540 } })).newPage()
  await other.goto(`${ADDRESS()}/sessions/${session}/patches`)
  await expect(other.getByText(/Cannot show HDR/)).toBeVisible()
  await clean(other)
  await other.getByRole('button', { name: /Full screen/ }).click()
  await expect(other.locator('[data-patch="grey-100"]')).toBeVisible()
  const colour = await other.evaluate(() => {
    const element = document.elementFromPoint(innerWidth / 2, innerHeight / 2)!
    const corner = document.elementFromPoint(3, 3)!
    return [getComputedStyle(element).backgroundColor, getComputedStyle(corner).backgroundColor]
  })
  expect(colour).toEqual(['rgb(255, 255, 255)', 'rgb(0, 0, 0)'])
  await idle(page)
  // The meter reads what the simulated source last showed; the run itself needs no hand any more.
  // Where no case before it has checked the feed, that comes first, and finds it wrong.
  const asked = (await page.locator('main h1').textContent()) ?? ''
  if (/Signal mismatch|Check the signal/.test(asked)) await press(page, 'n')
  await bench().simulate({ speed: 0.4 })
  await press(page, 'Space')
  // A patch stands for seconds now, long enough to be seen.
  await expect(other.locator('[data-patch="grey-70"]')).toBeVisible({ timeout: 120_000 })
  await bench().simulate({ speed: 0 })
  await idle(page)
  await expect(other.getByText(/Waiting for the next patch/)).toBeVisible()
  await other.context().close()
})

test('a wrong signal is found before anything rests on it', async ({ page }) => {
  await beginSession(page)
  await takeStep(page)
  await page.goto(`${ADDRESS()}/simulated`)
  await clean(page)
  await page.getByRole('button', { name: /Until fixed\s?: The source flags the other range/ }).click()
  await expect(page.getByText('until it is fixed')).toBeVisible()
  await page.goBack()
  await ready(page)
  await press(page, 'v')
  await page.getByRole('button', { name: /Check the signal again/ }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await idle(page)
  await expect(page.locator('main h1')).toContainText('Signal mismatch')
  await expect(page.getByText(/takes the limited range for the full one/)).toBeVisible()
  await clean(page)
  await bench().simulate({ faults: [] })
  await takeStep(page)
  await expect(page.locator('main h1')).toContainText('Default sweep')
})

test('a sweep in two modes is laid on top of each other, with its tables, files and readings', async ({
  page,
}) => {
  await bench().simulate({ speed: 0 })
  await beginSession(page)
  const session = page.url().split('/').pop()
  await prepare(page)
  await press(page, 'v')
  await expect(page.getByRole('dialog')).toContainText('Memory colours')
  await clean(page)
  await page.getByRole('radio', { name: /Whole mode/ }).check()
  await page.getByRole('checkbox', { name: 'Studio' }).check()
  await page.getByRole('checkbox', { name: 'Arena' }).check()
  await page.getByRole('button', { name: 'Start' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await idle(page)
  await page.goto(`${ADDRESS()}/evidence?unit=2`)
  await page
    .getByRole('checkbox', { name: /Whole mode, 2 modes/ })
    .first()
    .check()
  await page.waitForURL(/runs=/)
  const summary = page.getByRole('table').first()
  await expect(summary.getByRole('row', { name: /Studio/ })).toContainText(/\d/)
  await expect(summary.getByRole('row', { name: /Arena/ })).toBeVisible()
  for (const chart of ['Tone error', 'Gamma', 'White path', 'Colours', 'Windows'])
    await expect(page.getByRole('img', { name: new RegExp(`^${chart}`) })).toBeVisible()
  await expect(page.getByRole('heading', { name: /Colour errors/ })).toBeVisible()
  await expect(page.getByText('Clicks to target').first()).toBeVisible()
  await clean(page)

  const figure = page.locator('figure').filter({ hasText: 'Tone error' })
  const [csv] = await Promise.all([
    page.waitForEvent('download'),
    figure.getByRole('button', { name: /CSV/ }).click(),
  ])
  expect(readFileSync((await csv.path())!, 'utf8')).toMatch(/series,"?signal, %"?,/)
  const [png] = await Promise.all([
    page.waitForEvent('download'),
    figure.getByRole('button', { name: /PNG/ }).click(),
  ])
  expect(
    readFileSync((await png.path())!)
      .subarray(1, 4)
      .toString(),
  ).toBe('PNG')
  await figure.getByText('Table').click()
  await figure
    .getByRole('button', { name: /open reading/ })
    .first()
    .click()
  await expect(page.getByRole('dialog')).toContainText('Signal seen')
  await page.keyboard.press('Escape')

  await page.goto(`${ADDRESS()}/sessions/${session}/files`)
  await clean(page)
  const [out] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name: /CGATS/ }).click(),
  ])
  const text = readFileSync((await out.path())!, 'utf8')
  expect(text).toContain('BEGIN_DATA')
  const upload = (name: string, body: string) =>
    page
      .getByLabel(/CSV, or CGATS/)
      .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(body) })
  await upload('torn.csv', 'Level;X;Y;Z\n50;1;2;3\n50;a;2;3\n')
  await expect(page.getByText(/1 cannot. All or nothing/)).toBeVisible()
  await expect(page.getByRole('region', { name: /cannot be imported/ })).toContainText('line 3')
  await expect(page.getByRole('button', { name: /Store/ })).toBeDisabled()
  await upload('readings.txt', text)
  await expect(page.getByText(/CGATS.17 with \d+ rows/)).toBeVisible()
  await page.getByRole('button', { name: /Store \d+ readings/ }).click()
  await expect(page.getByText(/readings are stored/)).toBeVisible()
  await clean(page)
})

test('a four-colour correction is compared before it is kept', async ({ page }) => {
  await bench().simulate({ speed: 0 })
  await beginSession(page)
  await prepare(page)
  await press(page, 'd')
  await page.getByLabel('Correction in the meter').selectOption('none')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await press(page, 'v')
  await page.getByRole('radio', { name: /Primaries/ }).check()
  await page.getByRole('button', { name: 'Start' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await idle(page)
  const session = page.url().split('/').pop()
  await page.goto(`${ADDRESS()}/corrections/new?session=${session}`)
  await clean(page)
  await page.getByRole('button', { name: 'Compare' }).click()
  await expect(page.getByRole('alert').filter({ hasText: 'reference' })).toBeVisible()
  await page.getByRole('button', { name: /simulated reference/ }).click()
  await page.getByRole('button', { name: 'Compare' }).click()
  await expect(page.getByRole('row', { name: /white/ }).last()).toContainText('0.0000')
  await clean(page)
  await page.getByRole('button', { name: 'Keep the correction' }).click()
  await expect(page.getByText(/This session now reads with it/)).toBeVisible()
})

test('a unit is taken in by hand, and comes back from its archive only once', async ({ page }) => {
  await page.goto(`${ADDRESS()}/units/new`)
  await clean(page)
  await page.getByRole('button', { name: 'Add the unit' }).click()
  await expect(page.getByText('Who makes it?')).toBeVisible()
  // All that is wrong is named at once, and the first fault has the focus.
  await expect(page.getByText('Give the diagonal in inches.')).toBeVisible()
  await expect(page.getByLabel('Maker')).toBeFocused()
  const [archive] = await Promise.all([
    page.waitForEvent('download'),
    page.goto(`${ADDRESS()}/units/1`).then(() => page.getByRole('link', { name: /archive/ }).click()),
  ])
  await page.goto(`${ADDRESS()}/archives`)
  await clean(page)
  await page.getByLabel(/Archive of a unit/).setInputFiles((await archive.path())!)
  await expect(page.getByText(/is here already. Nothing was stored/)).toBeVisible()
  await page
    .getByLabel(/Archive of a unit/)
    .setInputFiles({ name: 'x.zip', mimeType: 'application/zip', buffer: Buffer.from('no zip') })
  await expect(page.getByText(/is not a Wexmar archive/)).toBeVisible()
})

import { expect } from '@playwright/test'
import {
  ADDRESS,
  beginSession,
  bench,
  clean,
  GAINS,
  goUntil,
  idle,
  press,
  ready,
  takeStep,
  test,
} from './bench-page'

test.beforeEach(async () => {
  await bench().simulate({ faults: [], speed: 0, onStand: 'OM55-31186', displayOnFor: 7200 })
})
test.afterEach(async () => {
  await bench().simulate({ faults: [], speed: 12 })
})

test('a policy is copied, edited, followed by a new case, and deleted', async ({ page }) => {
  await page.goto(`${ADDRESS()}/policies`)
  await expect(page.getByRole('navigation', { name: 'Policies' }).getByRole('link')).toHaveCount(3)
  await page.getByRole('button', { name: /Copy/ }).click()
  await expect(page.getByRole('heading', { level: 2 }).first()).toHaveText('Strict reference, own')
  await page.getByLabel('Name', { exact: true }).fill('House')
  await page.getByLabel('White, SDR, dark room, cd/m²').fill('0')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByText('White lies between 5 and 4000 cd/m².')).toBeVisible()
  await expect(page.getByText(/Nothing was sent/)).toBeVisible()
  await expect(page.getByLabel('White, SDR, dark room, cd/m²')).toHaveValue('0')
  await page.getByLabel('White, SDR, dark room, cd/m²').fill('130')
  await page.getByLabel('Multi-point white balance').selectOption('two-point')
  await page.getByRole('button', { name: 'Save' }).click()
  await expect(page.getByRole('heading', { level: 2 }).first()).toHaveText('House')
  // What was saved still stands there.
  await expect(page.getByLabel('Multi-point white balance')).toHaveValue('two-point')
  await clean(page)

  await beginSession(page, { luminance: '', policy: 'House' })
  await expect(page.getByRole('button', { name: /^130 cd\/m²/ })).toBeVisible()
  await page.goto(`${ADDRESS()}/policies`)
  await page.getByRole('link', { name: 'House' }).click()
  await page.getByRole('button', { name: /Delete/ }).click()
  await expect(page.getByRole('link', { name: 'House' })).toHaveCount(0)
})

test('what is known about a model is shown, used, and can be forgotten', async ({ page }) => {
  // A few sessions at a time are looked through; other tests left many.
  for (let i = 0; i < 8; i++) await page.goto(`${ADDRESS()}/models/ostrel-maren/learned`)
  const gain = page.locator('details').filter({ hasText: 'Gain, red' })
  await expect(gain.locator('summary')).toContainText('unit 1, SDR, dark room')
  await gain.locator('summary').click()
  const priors = gain.locator('li')
  const before = await priors.count()
  expect(before).toBeGreaterThan(0)
  await priors
    .first()
    .getByRole('button', { name: /Forget/ })
    .click()
  await expect(priors).toHaveCount(before - 1)
})

test('a pattern fills the screen pixel by pixel, and is a file as well', async ({ page }) => {
  await page.goto(`${ADDRESS()}/patterns/border`)
  await expect(page.getByRole('heading', { name: 'Picture size' })).toBeVisible()
  await clean(page)
  const corner = await page.evaluate(() => {
    const canvas = document.querySelector('canvas')!
    return [canvas.width, canvas.height, ...canvas.getContext('2d')!.getImageData(700, 0, 1, 2).data]
  })
  expect(corner.slice(0, 2)).toEqual([1280, 800])
  expect([corner[2], corner[6]]).toEqual([255, 0])
  const png = await page.request.get(`${ADDRESS()}/patterns/rings/png?w=1920&h=1080`)
  expect(png.headers()['content-type']).toBe('image/png')
  const bytes = await png.body()
  expect([bytes.readUInt32BE(16), bytes.readUInt32BE(20)]).toEqual([1920, 1080])
  expect((await page.request.get(`${ADDRESS()}/patterns/rings/png?w=9&h=9`)).status()).toBe(400)
})

test('a bench goes on by itself until only eyes are missing, and is taken over by key', async ({ page }) => {
  test.setTimeout(900_000)
  await beginSession(page, { policy: 'High contrast' })
  await press(page, 'u')
  await expect(page.getByText(/unattended/i).first()).toBeVisible()
  // What only eyes can tell is left open; somebody who takes over is asked.
  await expect(page.locator('main h1')).toContainText('Greyscale ΔE', { timeout: 600_000 })
  await idle(page)
  await clean(page)
  await press(page, 'u')
  await expect(page.locator('main h1')).toContainText('Picture size')
})

test('a wrong setting is asked about, corrected, and what got worse is on top', async ({ page }) => {
  test.setTimeout(900_000)
  await beginSession(page, { policy: 'High contrast' })
  await goUntil(page, GAINS)
  await takeStep(page)
  // The menu showed something else than was asked for.
  await press(page, 'e')
  const dialog = page.getByRole('dialog')
  const control = dialog.getByLabel('Control')
  const label = await control.locator('option').filter({ hasText: 'Gain, blue' }).textContent()
  await control.selectOption({ label: label ?? '' })
  await dialog.getByLabel(/^Value/).fill('24')
  await dialog.getByRole('button', { name: 'Set it and read' }).click()
  await expect(dialog).toBeHidden()
  await idle(page)
  await expect(page.getByLabel('Last adjustment')).toContainText('Gain, blue')
  const reopened = page.locator('[data-step="white"], [data-step="level-white"], [data-step="colour"]')
  for (let i = 0; i < 25; i++) {
    await idle(page)
    const words = (await page.locator('main h1').textContent()) ?? ''
    if (/got worse/.test(words)) break
    const leave = !/Prepare|Verification|rest/.test(words) && (await reopened.count()) > 0
    const looks = (await page.locator('main ol .key').filter({ hasText: /^1$/ }).count()) > 0
    await page.keyboard.press(leave ? 'n' : looks ? '1' : 'Space')
    await expect(page.locator('main h1')).not.toHaveText(words)
  }
  await expect(page.locator('main h1')).toHaveText('Some results got worse')
  await expect(page.getByText(/greyscale ΔE rose from/i).first()).toBeVisible()
  await clean(page)
  await press(page, 'Space')
  await expect(page.locator('main h1')).toContainText('Greyscale ΔE')
  await page.reload()
  await ready(page)
  await expect(page.locator('main h1')).toContainText('Greyscale ΔE')
})

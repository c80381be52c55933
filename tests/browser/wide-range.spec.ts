import { expect } from '@playwright/test'
import { ADDRESS, bench, clean, goUntil as goOn, idle, press, publish, ready, test } from './bench-page'

test.beforeEach(async () => {
  await bench().simulate({ faults: [], speed: 0, onStand: 'OM55-20417', displayOnFor: 7200 })
})
test.afterEach(async () => {
  await bench().simulate({ faults: [], speed: 12, onStand: 'OM55-31186' })
})

test('HDR film is gone with the keyboard: a school of tone mapping is picked, the end is read, the guide tells it', async ({
  page,
}) => {
  test.setTimeout(420_000)
  await page.goto(`${ADDRESS()}/units/1`)
  await page.getByLabel('Viewing case', { exact: true }).selectOption('hdr-film')
  // Luminance is absolute: there is none to aim at.
  await expect(page.getByLabel('White, cd/m²')).toHaveCount(0)
  await page.getByLabel('Picture mode to calibrate').selectOption({ label: 'Studio' })
  await page.getByRole('button', { name: /Begin (HDR film|it again)/ }).click()
  await page.waitForURL('**/sessions/*')
  await ready(page)
  const title = page.locator('main h1')
  const goUntil = async (wanted: RegExp) => {
    for (let i = 0; i < 60 && !wanted.test((await title.textContent()) ?? ''); i++) {
      // A question that only eyes answer is answered with its first answer.
      const looks = (await page.locator('main ol .key').filter({ hasText: /^1$/ }).count()) > 0
      const before = await page.locator('main > section[data-mark]').getAttribute('data-mark')
      await press(page, looks ? '1' : 'Space')
      await expect(page.locator('main > section[data-mark]')).not.toHaveAttribute('data-mark', before ?? '')
      await idle(page)
    }
    await expect(title).toHaveText(wanted)
  }
  await goUntil(/Tone mapping/)
  // Two values, two curves, two sentences with their numbers; a digit marks, Space takes.
  const schools = page.locator('main ul button[aria-pressed]')
  await expect(schools).toHaveCount(2)
  await expect(page.getByText(/moves by \d+ % with what else is shown/)).toBeVisible()
  await expect(page.getByText(/keeps detail up to [\d,]+ cd\/m²/)).toBeVisible()
  await page.keyboard.press('2')
  await expect(schools.nth(1)).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('1')
  await expect(schools.nth(0)).toHaveAttribute('aria-pressed', 'true')
  await clean(page)

  await goUntil(/Peak by window/)
  await expect(page.getByText(/The whole screen becomes very bright/)).toBeVisible()
  await goUntil(/follows PQ up to/)
  await page.getByRole('tab', { name: 'HDR', exact: true }).click()
  await expect(page.getByText(/Follows PQ up to [\d,]+ cd\/m²; beyond that it rolls off/)).toBeVisible()
  const files = page.waitForEvent('download')
  await page.getByRole('button', { name: 'CSV of EOTF' }).click()
  expect((await files).suggestedFilename()).toMatch(/\.csv$/)
  await clean(page)
  // On a phone nothing sticks out.
  await page.setViewportSize({ width: 390, height: 844 })
  const wide = await page.evaluate(() => document.documentElement.scrollWidth)
  expect(wide).toBeLessThanOrEqual(390)
  await page.setViewportSize({ width: 1280, height: 800 })

  // The key belongs to the bench again once the button of the file is left.
  await title.click()
  await press(page, 'Space')
  await page.waitForURL('**/desk/guides/*')
  await publish(page)
  await page.waitForURL('**/guides/ostrel-maren-55')
  const film = page.locator('#hdr-film')
  await expect(film.getByRole('heading', { name: 'HDR, measured' })).toBeVisible()
  await expect(film.getByRole('heading', { name: /^Tone mapping: Roll-off/ })).toBeVisible()
  await clean(page)
  const text = await (await page.request.get(`${ADDRESS()}/guides/ostrel-maren-55.md`)).text()
  expect(text).toContain('## HDR, measured')
  const guide = (await (await page.request.get(`${ADDRESS()}/guides/ostrel-maren-55.json`)).json()) as {
    cases: Array<{ viewingCase: { key: string }; hdr?: { mapping: string; peakByWindow: unknown[] } }>
  }
  const { hdr } = guide.cases.find((c) => c.viewingCase.key === 'hdr-film')!
  expect(hdr).toMatchObject({ mapping: 'roll-off' })
  expect(hdr!.peakByWindow).toHaveLength(8)
})

test('a patch of PQ is a picture that says so, and what is not understood is named', async ({ page }) => {
  const png = await page.request.get(`${ADDRESS()}/patterns/pq.png?signal=0.58&window=0.1&w=640&h=360`)
  expect(png.headers()['content-type']).toBe('image/png')
  const bytes = await png.body()
  expect([bytes.readUInt32BE(16), bytes.readUInt32BE(20), bytes[24]]).toEqual([640, 360, 16])
  expect(bytes.includes('cICP')).toBe(true)
  for (const wrong of [
    '',
    '?signal=2',
    '?signal=0.5,0.5',
    '?signal=x',
    '?signal=0.5&window=0',
    '?signal=0.5&w=9',
  ])
    expect((await page.request.get(`${ADDRESS()}/patterns/pq.png${wrong}`)).status(), wrong).toBe(400)
})

test('a game case asks before the screen flashes, shows latency by option, and can do without', async ({
  page,
}) => {
  test.setTimeout(600_000)
  const begin = async () => {
    await page.goto(`${ADDRESS()}/units/1`)
    await page.getByLabel('Viewing case', { exact: true }).selectOption('sdr-game')
    await page.getByLabel('Policy', { exact: true }).selectOption({ label: 'Strict reference' })
    await page.getByLabel('Picture mode to calibrate').selectOption({ label: 'Arena' })
    await page.getByRole('button', { name: /Begin (SDR game|it again)/ }).click()
    await page.waitForURL('**/sessions/*')
    await ready(page)
    await goOn(page, /May the screen flash/)
    await expect(page.getByText(/photosensitive people/)).toBeVisible()
  }
  await begin()
  await clean(page)
  await press(page, 'Space')
  await expect(page.locator('main h1')).toContainText('Latency by rate and option')
  await goOn(page, /Default sweep/)
  await page.getByRole('tab', { name: 'Games' }).click()
  const table = page.getByRole('table', { name: /Latency, ms/ })
  // “Rush” helps at 60 Hz alone.
  await expect(table.getByRole('row', { name: /“Rush” On/ })).toContainText('no effect')
  await expect(page.getByText(/“Rush” On saves \d+ ms at 60 Hz, and nothing at/)).toBeVisible()
  await clean(page)

  await begin()
  await press(page, 'n')
  await expect(page.locator('main h1')).not.toContainText('May the screen flash?')
  // What the sheet says is set instead, where it does not stand so already.
  await expect(page.locator('main h1')).toContainText(/Quick response|Default sweep/)
})

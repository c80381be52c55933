import { expect, type Page } from '@playwright/test'
import { ADDRESS, clean, test } from './bench-page'

/** The page of what is entered by hand in the monitor's game case. */
const openEntered = async (page: Page): Promise<string> => {
  await page.goto(`${ADDRESS()}/units?q=Pelt`)
  await page
    .getByRole('link', { name: /Pelt Q 27/ })
    .first()
    .click()
  await page
    .getByRole('listitem')
    .filter({ hasText: 'SDR game' })
    .getByRole('link', { name: 'By hand' })
    .click()
  await page.getByRole('heading', { name: 'Entered by hand' }).waitFor()
  return page.url()
}
const part = (page: Page, name: string) =>
  page.locator('section').filter({ has: page.getByRole('heading', { name, exact: true }) })

test('delays, a trace and a row without a measurement are entered by hand, refused with a sentence, and taken back', async ({
  page,
}) => {
  const address = await openEntered(page)
  await clean(page)
  const latency = part(page, 'Latency')
  await latency.getByLabel('Rate, Hz').fill('75')
  await latency.getByLabel('Times, ms').fill('12.1 fast')
  await latency.getByRole('button', { name: 'Keep these times' }).click()
  await expect(latency.getByText(/“fast” is not a delay/)).toBeVisible()
  await latency.getByLabel('Times, ms').fill('12.1 11.9\n12.0')
  await latency.getByRole('button', { name: 'Keep these times' }).click()
  await expect(latency.getByText('Kept 3 times, 12.0 ms on average.')).toBeVisible()
  await expect(latency.getByRole('row', { name: /75 12\.0 3/ })).toBeVisible()

  const response = part(page, 'Response times')
  const trace = (head: string) => ({
    name: 'pair.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from(
      [
        head,
        ...Array.from({ length: 400 }, (_, i) => {
          const since = i * 0.1 - 15
          return `${(i * 0.1).toFixed(2)},${(since < 0 ? 0.2 : 1 - 0.8 * Math.exp(-since / 2)).toFixed(5)}`
        }),
      ].join('\n'),
    ),
  })
  const send = response.getByRole('button', { name: 'Add this trace' })
  await send.click()
  await expect(response.getByText('Choose the file first.')).toBeVisible()
  await response.locator('input[type=file]').setInputFiles(trace('time,light'))
  await send.click()
  await expect(response.getByText(/Say the unit of time/)).toBeVisible()
  await response.locator('input[type=file]').setInputFiles(trace('time_ms,light'))
  await response.getByLabel('Grey that it goes to, %').fill('0')
  await send.click()
  await expect(response.getByText('The two greys have to differ.')).toBeVisible()
  await response.getByLabel('Grey that it goes to, %').fill('80')
  await send.click()
  await expect(response.getByText('Kept: rise 4.4 ms.')).toBeVisible()
  await expect(page.getByRole('img', { name: /0 → 80 %/ })).toBeVisible()

  const rows = part(page, 'Sound and system rows')
  await rows.getByLabel('Menu path').fill('Sound › Output')
  await rows.getByLabel('Label, as the menu shows it').fill('Format')
  await rows.getByLabel('Set to').fill('Passthrough')
  await rows.getByRole('button', { name: 'Add this row' }).click()
  await expect(rows.getByText('A row without a measurement needs its reason.')).toBeVisible()
  await rows.getByLabel('Why').fill('The receiver decodes it.')
  await rows.getByRole('button', { name: 'Add this row' }).click()
  await expect(rows.getByRole('listitem')).toContainText('Sound › Output › Format: Passthrough')
  await page.setViewportSize({ width: 390, height: 844 })
  await clean(page)
  await page.setViewportSize({ width: 1280, height: 800 })

  // The bench shows them, and leads back.
  await page.goto(address.replace('/entered', ''))
  await page.locator('[data-ready]').waitFor()
  await page.getByRole('tab', { name: 'Response' }).click()
  await expect(page.getByRole('row', { name: /0 % and 80 % 4\.4/ })).toBeVisible()
  await page.getByRole('tab', { name: 'Games' }).click()
  await expect(page.getByRole('columnheader', { name: '75 Hz' }).first()).toBeVisible()
  await page.getByRole('link', { name: 'Entered by hand' }).click()
  for (let left = 3; left > 0; left--) {
    await expect(page.getByRole('button', { name: /^Remove/ })).toHaveCount(left)
    await page
      .getByRole('button', { name: /^Remove/ })
      .first()
      .click()
    await page.getByRole('button', { name: /Really remove it/ }).click()
  }
  await expect(page.getByRole('button', { name: /^Remove/ })).toHaveCount(0)
})

test('the light of a projector on its screen is calculated, also from words that are none', async ({
  page,
}) => {
  await page.goto(`${ADDRESS()}/units?q=Lantern`)
  await page
    .getByRole('link', { name: /Lantern 3 110/ })
    .first()
    .click()
  await page.getByRole('link', { name: 'Light on its screen' }).click()
  await expect(page.getByText(/Measured on this unit/)).toBeVisible()
  await page.getByLabel('Light output, lm').fill('bright')
  await page.getByRole('button', { name: 'Calculate' }).click()
  await expect(page.getByText('“bright” is not a light output in lumens.')).toBeVisible()
  await page.getByLabel('Light output, lm').fill('2000')
  await page.getByLabel('Share left in the calibrated mode, %').fill('50')
  await page.getByLabel('Diagonal, inch').fill('100')
  await page.getByRole('button', { name: 'Calculate' }).click()
  // 1,000 lm over 2.756 m², and π.
  await expect(page.getByText('115 cd/m²').first()).toBeVisible()
  await expect(page.getByRole('row', { name: /^100 inch/ })).toContainText('2.66 to 3.54')
  await clean(page)
})

import { expect } from '@playwright/test'
import { ADDRESS, clean, test } from './bench-page'

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
  await expect(page.getByRole('listitem').filter({ hasText: /^8 bit, 4:4:4 fits/ })).toBeVisible()
  await clean(page)
})

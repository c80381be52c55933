import { expect, type Page } from '@playwright/test'
import { ADDRESS, bench, clean, test } from './bench-page'

const PROJECTOR = 'brae-lantern-3-110'
/** The desk of a guide, by its public address. */
const openDesk = async (page: Page, name: RegExp): Promise<string> => {
  await page.goto(`${ADDRESS()}/desk/guides`)
  await page.getByRole('link', { name }).click()
  await page.waitForURL('**/desk/guides/*')
  return page.url()
}
/** Says why it is right to publish, where rules warn. */
const because = async (page: Page): Promise<void> => {
  const field = page.getByLabel(/Why it is right to publish/)
  if (await field.isVisible()) await field.fill('Looked at.')
}
const saved = (page: Page) => expect(page.getByText('Saved', { exact: true })).toBeVisible()

test('an editor writes with headings, a list, a link and figures that follow what is measured; a second name approves it', async ({
  page,
  browser,
}) => {
  await openDesk(page, /Lantern/)
  const box = page.getByRole('textbox', { name: 'Text of the guide, below the summary' })
  await box.click()
  await page.keyboard.press('Control+A')
  await page.keyboard.press('Delete')
  const tools = page.getByRole('toolbar').nth(1)
  await page.keyboard.type('Before you begin')
  await tools.getByRole('button', { name: 'Heading' }).click()
  await page.keyboard.press('Enter')
  await page.keyboard.type('2 * 3 * 4 and <b>not bold</b>: white comes to ')
  await tools.getByRole('button', { name: 'Figure' }).click()
  await page.getByLabel('A figure that was measured').fill('white out dark')
  await page.getByRole('button', { name: /White out of the box, SDR, dark room/ }).click()
  await page.keyboard.type('.')
  await page.keyboard.press('Enter')
  await tools.getByRole('button', { name: 'List', exact: true }).click()
  await page.keyboard.type('Lamp on for an hour')
  await saved(page)
  await clean(page)
  // Another editor sees it, figure included.
  const other = await browser.newPage()
  await other.goto(page.url())
  const theirs = other.getByRole('textbox', { name: 'Text of the guide, below the summary' })
  await expect(theirs.getByRole('heading', { name: 'Before you begin' })).toBeVisible()
  await expect(theirs.locator('.guide-field')).toHaveText(/^\d+ cd\/m²$/)
  const figure = (await theirs.locator('.guide-field').textContent())!
  await other.close()

  await page.reload()
  await page.getByLabel('Why there is a new revision').fill('What to do first.')
  await page.getByLabel('When').fill('2020-01-01T10:00')
  await because(page)
  await page.getByRole('button', { name: /^Publish revision/ }).click()
  await expect(page.getByText(/lies in the past.*the draft is kept/i)).toBeVisible()
  await page.getByLabel('When').fill('')
  await page.getByRole('button', { name: /^Publish revision/ }).click()
  await page.waitForURL(`**/guides/${PROJECTOR}`)
  await expect(page.getByRole('heading', { name: 'Before you begin' })).toBeVisible()
  await expect(page.locator('main')).toContainText(`2 * 3 * 4 and <b>not bold</b>: white comes to ${figure}.`)
  await expect(page.getByRole('listitem').filter({ hasText: 'Lamp on for an hour' })).toBeVisible()
  await clean(page)
})

test('a draft is scheduled, told so, and taken back; a review by one name alone is refused', async ({
  page,
}) => {
  await openDesk(page, /Pelt/)
  const summary = page.getByRole('textbox', { name: 'Summary', exact: true })
  await summary.click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' Text is sharp.')
  await saved(page)
  await page.reload()
  const review = async (kind: string, name: string) => {
    await page.getByLabel('What you say').selectOption(kind)
    await page.locator('#review').getByLabel('Your name').fill(name)
    await page.getByRole('button', { name: 'Submit review' }).click()
  }
  await review('asked', 'Ines')
  await expect(page.locator('#review')).toContainText('Ines asks for a review')
  await review('approved', 'ines')
  await expect(page.getByText(/Someone other than the person who asked has to review it/)).toBeVisible()
  await review('approved', 'Tomas')
  await expect(page.locator('#review')).toContainText('Tomas approves it')
  await page.getByLabel('Why there is a new revision').fill('A word more.')
  await because(page)
  const soon = new Date(Date.now() + 86_400_000).toISOString().slice(0, 16)
  await page.getByLabel('When').fill(soon)
  await page.getByRole('button', { name: /^Publish revision \d+ then/ }).click()
  await expect(page.getByText(/Becomes public on/)).toBeVisible()
  await page.getByRole('button', { name: /^Cancel/ }).click()
  await expect(page.getByText(/Becomes public on/)).toHaveCount(0)
})

test('words that are typed while nobody answers are kept on the page, said, and sent when somebody does', async ({
  page,
}) => {
  await openDesk(page, /Pelt/)
  const summary = page.getByRole('textbox', { name: 'Summary', exact: true })
  await page.route('**/desk/guides/**', (route) =>
    route.request().method() === 'POST' ? route.abort() : route.continue(),
  )
  await summary.click()
  await page.keyboard.press('Control+End')
  await page.keyboard.type(' Typed in a storm.')
  await expect(page.getByText('Not saved yet: Wexmar does not answer.')).toBeVisible()
  await clean(page)
  await page.unroute('**/desk/guides/**')
  await saved(page)
  await page.reload()
  await expect(summary).toContainText('Typed in a storm.')
})

test('after a firmware a case is read again at the bench and becomes part of the next revision', async ({
  page,
}) => {
  await bench().simulate({
    faults: [],
    speed: 0,
    onStand: 'OM65-10336',
    displayOnFor: 7200,
    firmware: '4.10.0',
  })
  await page.goto(`${ADDRESS()}/desk/rechecks`)
  const line = page.getByRole('listitem').filter({ hasText: 'Ostrel Maren 65' })
  await expect(line).toContainText('4.02.1 → 4.10.0')
  await expect(line).toContainText(/\d+ min/)
  await line.getByRole('button', { name: /^Read it again/ }).click()
  await page.waitForURL('**/sessions/*')
  await page.locator('[data-run="none"]').waitFor({ timeout: 120_000 })
  await page.goto(`${ADDRESS()}/desk/rechecks`)
  await expect(line).toContainText(/Still right: ΔE00 \d\.\d → \d\.\d/)
  await line.getByRole('button', { name: /^Put it into the next revision/ }).click()
  await openDesk(page, /Maren 65/)
  await expect(page.getByText('not public yet')).toBeVisible()
  await expect(page.getByText(/firmware 4\.02\.1 → 4\.10\.0/)).toBeVisible()
  await bench().simulate({ faults: [], speed: 12, onStand: 'OM55-31186', displayOnFor: 3600 })
})

test('a guide leaves as every kind of file, and comes back from its archive; a torn one is refused with a sentence', async ({
  page,
}) => {
  const slug = `${ADDRESS()}/guides/ostrel-maren-55`
  for (const [ending, type] of [
    ['json', 'application/json'],
    ['md', 'text/markdown'],
    ['csv', 'text/csv'],
    ['html', 'text/html'],
    ['pdf', 'application/pdf'],
    ['zip', 'application/zip'],
    ['vtt', 'text/vtt'],
  ] as const) {
    const answer = await fetch(`${slug}.${ending}`)
    expect([ending, answer.status, answer.headers.get('content-type')?.split(';')[0]]).toEqual([
      ending,
      200,
      type,
    ])
    expect((await fetch(`${ADDRESS()}/guides/nowhere-1.${ending}`)).status, ending).toBe(404)
  }
  const card = await fetch(`${slug}/card.png`)
  expect([card.status, card.headers.get('content-type')]).toEqual([200, 'image/png'])
  const html = await (await fetch(slug)).text()
  expect(html).toContain('property="og:image"')
  expect((await (await fetch(`${ADDRESS()}/guides/schema.json`)).json()).title).toBe('wexmar-guide-file/1')
  // The saved page stands alone: drawn with nothing else to be had.
  const alone = await (await fetch(`${slug}.html`)).text()
  await page.route('**/*', (route) => route.abort())
  await page.setContent(alone)
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Ostrel Maren 55 settings')
  expect(await page.evaluate(() => getComputedStyle(document.querySelector('h1')!).fontFamily)).toMatch(
    /Archivo/,
  )
  await page.unroute('**/*')

  await page.goto(`${ADDRESS()}/desk/guides`)
  const file = page.getByLabel(/Data .* or archive/)
  await file.setInputFiles({ name: 'a.json', mimeType: 'application/json', buffer: Buffer.from('{"file":') })
  await expect(page.getByText(/file is not JSON.*Nothing was stored\./)).toBeVisible()
  const archive = Buffer.from(await (await fetch(`${slug}.zip`)).arrayBuffer())
  await file.setInputFiles({ name: 'a.zip', mimeType: 'application/zip', buffer: archive })
  await page.waitForURL('**/desk/guides/1')
})

test('two guides and two revisions stand side by side, without scripts too', async ({ browser }) => {
  const context = await browser.newContext({
    javaScriptEnabled: false,
    viewport: { width: 390, height: 844 },
  })
  const page = await context.newPage()
  await page.goto(`${ADDRESS()}/guides/ostrel-maren-55`)
  await page.getByRole('link', { name: 'Compare with another guide or revision' }).click()
  await page.getByLabel('Maker, model or words').fill('Lantern')
  await page.getByRole('button', { name: 'Search' }).click()
  await page.getByRole('link', { name: /Lantern/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    /Ostrel Maren 55 against Brae Lantern 3 110/,
  )
  await expect(page.getByText('Measured for Ostrel Maren 55 alone.').first()).toBeVisible()
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  await page.goto(`${ADDRESS()}/guides/ostrel-maren-55/revisions/2`)
  await page.getByRole('link', { name: 'Both side by side' }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText(
    /revision 1 against Ostrel Maren 55, revision 2/,
  )
  for (const odd of ['?a=nowhere-1', '?a=ostrel-maren-55@999999999', `?a=${'x'.repeat(300)}`, ''])
    expect((await fetch(`${ADDRESS()}/guides/compare${odd}`)).status, odd).toBe(200)
  await context.close()
})

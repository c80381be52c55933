/** `npm run pictures`: takes the pictures of the documentation anew, from demo data made for it. */
import { resolve } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { CHROMIUM } from '#tests/browser'
import { demoBench, removeScratch, startDemo, wholeDemo } from '#tests/demo'

const folder = resolve(import.meta.dirname, '../../docs/screenshots')
const env = { ...(await wholeDemo()), WEXMAR_BENCH_SPEED: '0' }
const demo = await startDemo(env)
const bench = demoBench(demo.benchUrl, demo.data)
const browser = await chromium.launch(CHROMIUM)
const shoot = async (page: Page, name: string) => {
  await page.waitForTimeout(500)
  await page.screenshot({ path: resolve(folder, `${name}.png`) })
  console.log(name)
}
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
const title = async () => (await page.locator('main h1').first().textContent()) ?? ''
const idle = () =>
  page
    .locator('[data-run="none"]')
    .waitFor({ timeout: 120_000 })
    .catch(async (error: Error) => {
      throw new Error(`${error.message}\n${await page.locator('main').first().textContent()}`)
    })
/** Does something and waits until the session has gone on and nothing runs any more. */
const then = async (act: () => Promise<unknown>) => {
  const mark = () => page.locator('main > section[data-mark]').getAttribute('data-mark')
  const before = await mark()
  await act()
  await page.waitForFunction(
    (known) => document.querySelector('main > section[data-mark]')?.getAttribute('data-mark') !== known,
    before,
  )
  await idle()
  await page.locator('main > section[aria-busy="false"]').waitFor()
}
const press = (key: string) => then(() => page.keyboard.press(key))
/** Goes on as proposed until the heading says something. */
const goUntil = async (wanted: RegExp) => {
  for (let i = 0; i < 60 && !wanted.test(await title()); i++) {
    const looks = (await page.locator('main ol .key').filter({ hasText: /^1$/ }).count()) > 0
    await press(looks ? '1' : 'Space')
  }
  if (!wanted.test(await title())) throw new Error(`It never came to ${wanted}`)
}
const begin = async (unit: number, choose: () => Promise<unknown>): Promise<string> => {
  await page.goto(`${demo.address}/units/${unit}`)
  await choose()
  await page.getByRole('button', { name: /Begin (SDR|HDR|it again)/ }).click()
  await page.waitForURL('**/sessions/*')
  await page.locator('[data-ready]').waitFor()
  return page.url().split('/').pop() ?? ''
}
const caseOf = (value: string) => page.getByLabel('Viewing case', { exact: true }).selectOption(value)
const modeOf = (label: string) => page.getByLabel('Picture mode to calibrate').selectOption({ label })

try {
  await page.goto(demo.address)
  await shoot(page, 'home')
  await page.goto(`${demo.address}/models/ostrel-maren/sheet`)
  await page.locator('#r1-menu').waitFor()
  await shoot(page, 'sheet')
  await page.goto(`${demo.address}/units/2`)
  await shoot(page, 'unit')

  // A wrong feed, then the survey.
  const session = await begin(2, () => caseOf('sdr-dark'))
  await press('Space')
  await page.goto(`${demo.address}/simulated`)
  await page.getByRole('button', { name: /Until fixed\s?: The source flags the other range/ }).click()
  await page.getByText('until it is fixed').waitFor()
  await page.goto(`${demo.address}/sessions/${session}`)
  await page.locator('[data-ready]').waitFor()
  await press('Space')
  await shoot(page, 'bench-signal-mismatch')
  await bench.simulate({ faults: [] })
  await press('Space')
  await press('Space')
  await shoot(page, 'bench-survey')
  await press('Space')

  // A run while it goes on, paused so that the picture is the same each time.
  await bench.simulate({ speed: 8 })
  await page.keyboard.press('Space')
  await page.locator('[role="progressbar"] span.bg-ink').nth(8).waitFor({ timeout: 60_000 })
  await page.keyboard.press('p')
  await page.locator('[data-run="paused"]').waitFor()
  await bench.simulate({ speed: 0 })
  await press('Space')
  await goUntil(/Gain/)
  await shoot(page, 'bench-next-move')
  await goUntil(/values/)
  await shoot(page, 'bench-by-level')
  await goUntil(/Picture size/)
  await goUntil(/got worse|Greyscale ΔE/)
  if (/got worse/.test(await title())) await press('Space')
  await shoot(page, 'bench-before-after')

  await page.goto(`${demo.address}/evidence?unit=2`)
  // Newer runs stand above older ones.
  await page
    .getByRole('checkbox', { name: /Out of the box/ })
    .first()
    .check()
  await page
    .getByRole('checkbox', { name: /[Vv]erification/ })
    .last()
    .check()
  await page.waitForURL(/runs=\d+%2C|runs=\d+,/)
  await shoot(page, 'evidence')

  // A game case, gone to its end: latency by option and rate.
  await begin(2, async () => {
    await caseOf('sdr-game')
    await modeOf('Arena')
  })
  await goUntil(/Picture size/)
  await goUntil(/got worse|Greyscale ΔE/)
  if (/got worse/.test(await title())) await press('Space')
  await page.getByRole('tab', { name: 'Games' }).click()
  await shoot(page, 'bench-games')

  await begin(2, async () => {
    await caseOf('sdr-bright')
    await modeOf('Lounge')
    await page.getByText(/^Equipment:/).click()
    for (const part of ['Settings are made by', 'Patches are shown by', 'The meter is read by'])
      await page.getByLabel(part).selectOption('hand')
    await page.getByLabel(/^Meter, where/).fill('Ferrand Lux One, 88')
  })
  // A person is asked: nothing here comes to rest by itself.
  for (let i = 0; i < 20 && (await page.locator('#typed').count()) === 0; i++) {
    await page.keyboard.press('Space')
    await page.waitForTimeout(900)
  }
  await page.locator('#typed').fill('95,1  100,2  108,7')
  await shoot(page, 'bench-by-hand')

  // HDR of a self-emissive display with three schools of tone mapping.
  await bench.simulate({ onStand: 'HS65-00812', displayOnFor: 7200 })
  for (let i = 0; i < 20; i++) {
    await page.goto(demo.address)
    if (await page.getByText('This unit is not known yet').count()) break
    await page.waitForTimeout(500)
  }
  await page.getByLabel('Name of the unit').fill('unit 1')
  await page.getByLabel('Region').fill('Europe')
  await page.getByLabel('Where it came from').fill('on loan from the importer')
  await page.getByRole('button', { name: /^Add/ }).click()
  await page.waitForURL('**/units/*')
  const hdr = await begin(Number(page.url().split('/').pop()), () => caseOf('hdr-film'))
  await goUntil(/Tone mapping/)
  await page.keyboard.press('2')
  await shoot(page, 'bench-tone-mapping')
  await goUntil(/Greyscale ΔE/)
  await page.getByRole('tab', { name: 'HDR', exact: true }).click()
  await page.setViewportSize({ width: 1280, height: 1000 })
  await shoot(page, 'bench-hdr')
  await page.setViewportSize({ width: 1280, height: 800 })
  await page.keyboard.press('Space')
  await page.waitForURL('**/desk/guides/*')
  await shoot(page, 'guide-desk')
  for (const label of ['Why there is a new revision', /^Why it is right to publish/]) {
    const field = page.getByLabel(label)
    if (await field.isVisible()) await field.fill('Measured on another unit as well.')
  }
  await page.getByRole('button', { name: /^Publish revision/ }).click()
  await page.waitForURL(/[0-9]\/guides\//)
  await page.getByRole('heading', { name: 'HDR, measured' }).scrollIntoViewIfNeeded()
  await page.evaluate(() => window.scrollBy(0, 260))
  await shoot(page, 'guide-hdr')
  console.log(`session ${hdr}`)

  await page.goto(`${demo.address}/signal-path?use=game&range=full`)
  await page.getByRole('link', { name: 'fits' }).first().waitFor()
  await shoot(page, 'signal-path')
  await page.goto(`${demo.address}/guides/ostrel-maren-55`)
  await shoot(page, 'guide')
  await page.goto(`${demo.address}/guides/compare?a=ostrel-maren-55&b=ostrel-maren-65`)
  await shoot(page, 'guide-compare')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${demo.address}/guides/ostrel-maren-55/follow`)
  await page.locator('[data-follow="kept"]').waitFor()
  await page.getByRole('button', { name: 'It is set' }).click()
  await shoot(page, 'guide-follow')
} finally {
  await browser.close()
  await demo.stop()
  removeScratch(env)
}

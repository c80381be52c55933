import { expect } from '@playwright/test'
import {
  ADDRESS,
  beginSession,
  bench,
  clean,
  GAINS,
  goUntil,
  idle,
  log,
  pidOf,
  prepare,
  press,
  publish,
  ready,
  step,
  takeStep,
  test,
} from './bench-page'

test.afterEach(async () => {
  await bench().simulate({ faults: [], speed: 12 })
})

test('a newcomer goes from the first page to a published guide with the keyboard', async ({ page }) => {
  test.setTimeout(900_000)
  await page.goto(ADDRESS())
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Ostrel Maren 55, unit 2')
  await clean(page)
  await page.getByRole('link', { name: 'Begin with unit 2' }).click()
  await clean(page)
  await expect(page.getByText('All are read; you choose from a ranked proposal.')).toBeVisible()
  await page.getByRole('button', { name: 'Begin SDR, dark room' }).click()
  await page.waitForURL('**/sessions/*')
  await ready(page)
  await clean(page)

  await expect(page.locator('main h1')).toContainText('Prepare')
  await takeStep(page)
  await expect(page.locator('main h1')).toContainText('Check the signal')
  await takeStep(page)
  await expect(page.locator('main h1')).toContainText('Survey4 modes')
  const before = (await log(page)).length
  await press(page, 'Space')
  // Readings appear while the survey goes on.
  await expect.poll(async () => (await log(page)).length).toBeGreaterThan(before + 2)
  await expect(page.getByRole('progressbar')).toBeVisible()
  await bench().simulate({ speed: 0 })
  await idle(page)
  // All modes side by side; the proposed one is marked, and another one can be.
  await expect(page.locator('main h1')).toContainText('Take “Studio”')
  await expect(page.locator('[data-mode]')).toHaveCount(4)
  const proposed = await page.locator('[data-mode]').first().getAttribute('data-mode')
  await clean(page)
  await page.keyboard.press('ArrowDown')
  await expect(page.locator('[data-mode]').nth(1).getByRole('button')).toHaveAttribute('aria-pressed', 'true')
  await page.keyboard.press('1')
  await press(page, 'Space')
  await expect(page.locator('main h1')).not.toContainText('Take “')
  expect(proposed).toBe('studio')

  const way = await goUntil(page, /Gain|Warmth|Red/)
  expect(way.some((m) => m.includes('Depth') && m.includes('84'))).toBe(true)
  await clean(page)
  const rest = await goUntil(page, /Picture size/)
  // What the adjustment did stands beneath the next one.
  expect(rest.join()).not.toContain('green')
  await clean(page)
  await page.keyboard.press('1')
  const looks = await goUntil(page, /got worse|Greyscale ΔE/)
  expect(looks.some((h) => h.includes('Shadow detail'))).toBe(true)
  await clean(page)
  await goUntil(page, /Greyscale ΔE/)
  expect(await step(page)).toBe('guide')
  await expect(page.getByRole('row', { name: /Greyscale/ }).first()).toBeVisible()
  await press(page, 'Space')
  await page.waitForURL('**/desk/guides/*')
  await expect(page.getByRole('listitem').filter({ hasText: 'Light › Depth' }).first()).toContainText(
    'Start here',
  )
  await clean(page)

  // Words are saved as they are typed, and an empty title goes back to the one that is proposed.
  const title = page.getByLabel('Title')
  await title.fill('Maren, our way')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await page.reload()
  await expect(title).toHaveValue('Maren, our way')
  await title.fill('')
  await title.blur()
  await expect(title).toHaveValue('Ostrel Maren 55 settings')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  // A new revision says why.
  await page.getByRole('button', { name: /Publish revision/ }).click()
  await expect(page.getByText(/The draft is kept/)).toBeVisible()
  await publish(page)
  await page.waitForURL('**/guides/ostrel-maren-55')
  await expect(page.getByText('unit 2', { exact: false }).first()).toBeVisible()
})

test('two editors on one guide see each other’s words and overwrite nothing', async ({ page, browser }) => {
  await page.goto(`${ADDRESS()}/desk/guides/1`)
  const other = await browser.newPage()
  await other.goto(`${ADDRESS()}/desk/guides/1`)
  const label = 'Notes for the desk, never published'
  await page.getByLabel(label).fill('Ask about the stand.')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await expect(other.getByLabel(label)).toHaveValue('Ask about the stand.', { timeout: 15_000 })
  // Both write at once: the second is shown the words of the first.
  await other.route('**/api/guides/1/words', (route) => route.abort())
  await page.getByLabel(label).fill('Ask about the stand. It wobbles.')
  await expect(page.getByText('Saved', { exact: true })).toBeVisible()
  await other.getByLabel(label).fill('The stand is fine.')
  await expect(other.getByText(/Nothing was overwritten/)).toBeVisible()
  await expect(other.getByText('Ask about the stand. It wobbles.')).toBeVisible()
  await other.getByRole('button', { name: 'Keep mine' }).click()
  await expect(other.getByText('Saved', { exact: true })).toBeVisible()
  await expect(page.getByLabel(label)).toHaveValue('The stand is fine.', { timeout: 15_000 })
  await other.close()
})

test('a reader follows along on a phone, one setting at a time, also after the network is gone', async ({
  browser,
}) => {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 } })
  const page = await context.newPage()
  await page.goto(`${ADDRESS()}/guides/ostrel-maren-55/follow`)
  await page.locator('[data-follow="kept"]').waitFor()
  const heading = page.getByRole('heading', { level: 2 })
  await expect(heading).toHaveText('Scene')
  await clean(page)
  await page.getByRole('button', { name: 'It is set' }).click()
  await page.getByRole('button', { name: 'Skip' }).click()
  const third = await heading.textContent()
  await context.setOffline(true)
  await page.reload()
  // Where it was, with nothing but what the phone kept.
  await expect(heading).toHaveText(third!)
  await page.getByRole('button', { name: 'One back' }).click()
  await expect(heading).toHaveText('Depth')
  await page.getByRole('link', { name: 'HDR film', exact: true }).click()
  await expect(page.getByText(/Play something in HDR first/)).toBeVisible()
  await expect(page.getByText(/^1 of/)).toBeVisible()
  const wide = await page.evaluate(() => document.documentElement.scrollWidth)
  expect(wide).toBeLessThanOrEqual(390)
  for (let i = 0; i < 60 && (await page.getByRole('button', { name: 'It is set' }).isVisible()); i++)
    await page.getByRole('button', { name: 'It is set' }).click()
  await expect(page.getByRole('heading', { name: 'Done' })).toBeVisible()
  await context.close()
})

test('readers get the guide without scripts, on a phone, as data, as text and in the feed', async ({
  browser,
}) => {
  const context = await browser.newContext({
    javaScriptEnabled: false,
    viewport: { width: 390, height: 844 },
  })
  const page = await context.newPage()
  await page.goto(`${ADDRESS()}/guides`)
  await page.getByRole('link', { name: /Ostrel Maren 55/ }).click()
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Ostrel Maren 55 settings')
  for (const name of ['SDR, dark room', 'SDR, bright room', 'HDR film', 'HDR film, dynamic metadata'])
    await expect(page.getByRole('heading', { level: 2, name, exact: true })).toBeVisible()
  await expect(page.getByRole('row', { name: /Depth/ }).first()).toContainText('light behind the panel')
  const wide = await page.evaluate(() => document.documentElement.scrollWidth)
  expect(wide).toBeLessThanOrEqual(390)
  await page.getByRole('button', { name: 'Dark' }).click()
  await expect(page.locator('[data-theme="dark"]')).toBeVisible()
  await page.getByRole('button', { name: 'Paper' }).click()
  // A reader tells how it went, without a script, and the desk counts it.
  await page.getByText('Tell us how it went').click()
  await page.getByLabel('better', { exact: true }).check()
  await page.getByLabel('Size, inch').fill('55')
  await page.getByRole('button', { name: 'Send' }).click()
  await expect(page.getByText('Thank you.', { exact: false })).toBeVisible()
  const desk = await browser.newPage()
  await desk.goto(`${ADDRESS()}/desk/guides/1`)
  await desk
    .getByRole('button', { name: /^Count it/ })
    .first()
    .click()
  await expect(desk.getByText(', counted')).toBeVisible()
  await desk.close()
  await page.goto(`${ADDRESS()}/guides/ostrel-maren-55`)
  await expect(page.getByText('55 inch: 1 better.')).toBeVisible()
  await context.close()

  const slug = `${ADDRESS()}/guides/ostrel-maren-55`
  const data = await (await fetch(`${slug}.json`)).json()
  expect(data.cases.map((c: { viewingCase: { key: string } }) => c.viewingCase.key)).toEqual([
    'sdr-dark',
    'sdr-bright',
    'hdr-film',
    'hdr-film-dynamic',
  ])
  expect(data.cases[0].values.length).toBeGreaterThan(20)
  expect(data.cases[0].policy.name).toBe('Strict reference')
  // Where each case was a guide of its own, its address leads to the guide.
  for (const [old, now] of [
    ['-sdr-dark', '#sdr-dark'],
    ['-hdr-film.json', '.json'],
    ['-hdr-film.md', '.md'],
  ]) {
    const moved = await fetch(`${slug}${old}`, { redirect: 'manual' })
    expect([moved.status, moved.headers.get('location')], old).toEqual([308, `/guides/ostrel-maren-55${now}`])
  }
  const html = await (await fetch(slug)).text()
  const structured = JSON.parse(/<script type="application\/ld\+json">([\s\S]*?)<\/script>/.exec(html)![1]!)
  expect(structured).toMatchObject({ '@type': 'TechArticle', headline: 'Ostrel Maren 55 settings' })
  expect(structured.hasPart).toHaveLength(4)
  const revision = await (await fetch(`${slug}/revisions/2`)).text()
  expect(revision).toContain('What changed since revision')
  expect((await fetch(`${slug}/revisions/99`)).status).toBe(404)
  const text = await (await fetch(`${slug}.md`)).text()
  expect(text).toContain('# Ostrel Maren 55 settings')
  const feed = await (await fetch(`${ADDRESS()}/guides/feed.xml`)).text()
  expect(feed).toContain('<title>Ostrel Maren 55 settings</title>')
})

test('a guide of four cases prints on two sheets of A4, with every value that was changed', async ({
  page,
}) => {
  await page.goto(`${ADDRESS()}/guides/ostrel-maren-55/print`)
  const paper = await page.pdf({ preferCSSPageSize: true })
  expect(paper.toString('latin1').match(/\/Type\s*\/Page[^s]/g)).toHaveLength(2)
  const text = (await page.locator('main').textContent())!
  const guide = (await (await page.request.get(`${ADDRESS()}/guides/ostrel-maren-55.json`)).json()) as {
    cases: Array<{ values: Array<{ label: string; shown: string; changed: boolean }> }>
  }
  for (const c of guide.cases)
    for (const v of c.values.filter((one) => one.changed)) expect(text).toContain(v.shown)
  await clean(page)
})

const DESK_AND_COMPARISON = [
  '/guides/compare?a=ostrel-maren-55&b=ostrel-maren-65',
  '/guides/compare?a=ostrel-maren-55@1&b=ostrel-maren-55@5',
  '/desk/guides',
  '/desk/guides/1',
  '/desk/guides/1/cues',
  '/desk/rechecks',
  '/signal-path',
  '/signal-path?source=1&model=ostrel-maren&socket=input-1&at=3840x2160@120&depth=10&chroma=4:4:4',
  '/models/ostrel-maren/inputs',
  '/guides/anvik-pelt-q-27',
]

test('public pages and models pass the accessibility check in both sizes', async ({ page }) => {
  for (const path of [
    '/guides',
    '/guides/ostrel-maren-55',
    '/guides/ostrel-maren-55/revisions/2',
    '/guides/ostrel-maren-55/follow',
    ...DESK_AND_COMPARISON,
    '/models/ostrel-maren',
    '/models/ostrel-maren/learned',
    '/policies',
    '/units/1',
  ]) {
    await page.goto(ADDRESS() + path)
    await clean(page)
  }
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${ADDRESS()}/guides/ostrel-maren-55`)
  await clean(page)
  // Nothing of the desk lies beyond the edge of a phone either.
  for (const path of [
    ...['/', '/units', '/units/1', '/units/2', '/units/new', '/policies', '/equipment', '/simulated'],
    ...['/archives', '/glossary', '/evidence', '/evidence?unit=1', '/corrections/new?session=1', '/guides'],
    ...['/guides/ostrel-maren-55/revisions/2', '/guides/ostrel-maren-55/follow', ...DESK_AND_COMPARISON],
    ...[
      '/sessions/1',
      '/sessions/1/files',
      '/sessions/1/entered',
      '/units/1/screen',
      '/sessions/1/guide',
      '/sessions/1/patches',
      '/nowhere',
    ],
    ...['/models/ostrel-maren', '/models/ostrel-maren/sheet', '/models/ostrel-maren/learned'],
  ]) {
    await page.goto(ADDRESS() + path)
    const beyond = await page.evaluate(() => {
      const wider = (e: Element) => e.scrollWidth > e.clientWidth + 1
      const scrolls = (e: Element) => ['auto', 'scroll'].includes(getComputedStyle(e).overflowX)
      return [document.documentElement, ...document.querySelectorAll('body *')]
        .filter((e) => wider(e) && (e === document.documentElement || scrolls(e)))
        .map((e) => `${e.tagName} ${e.className}`)
    })
    expect(beyond, path).toEqual([])
  }
})

test('a browser that is closed in the middle finds everything where it was', async ({ browser }) => {
  const first = await (await browser.newContext()).newPage()
  await beginSession(first)
  const { before, sweep } = await prepare(first)
  await bench().simulate({ speed: 6 })
  await first.keyboard.press('Space')
  await expect.poll(async () => (await log(first)).length).toBeGreaterThan(before + 3)
  const shown = await log(first)
  const url = first.url()
  await first.context().close()
  const second = await (await browser.newContext()).newPage()
  await second.goto(ADDRESS())
  await second.getByRole('link', { name: /Go on with SDR, dark room/ }).click()
  await second.waitForURL(url)
  await ready(second)
  await idle(second)
  const now = await log(second)
  expect(now.slice(0, shown.length)).toEqual(shown)
  expect(now).toHaveLength(before + sweep)
  await second.context().close()
})

test('web and runner killed in the middle of a sweep: nothing shown is lost, the sweep goes on', async ({
  page,
}) => {
  await beginSession(page)
  const { before, sweep } = await prepare(page)
  await bench().simulate({ speed: 3 })
  await press(page, 'Space')
  await expect.poll(async () => (await log(page)).length).toBeGreaterThan(before + 2)
  const shown = await log(page)
  process.kill(pidOf('ops/web'), 'SIGKILL')
  process.kill(pidOf('runner/main'), 'SIGKILL')
  await expect(page.getByText(/does not hear from Wexmar/)).toBeVisible()
  await expect(page.getByText(/does not hear from Wexmar/)).toBeHidden({ timeout: 120_000 })
  await idle(page)
  const now = await log(page)
  expect(now.slice(0, shown.length)).toEqual(shown)
  expect(now).toHaveLength(before + sweep)
})

test('a pause by key holds the run, and the reading log opens every reading', async ({ page }) => {
  await beginSession(page)
  const { before } = await prepare(page)
  await bench().simulate({ speed: 6 })
  await press(page, 'Space')
  await expect.poll(async () => (await log(page)).length).toBeGreaterThan(before + 1)
  await press(page, 'p')
  await expect(page.locator('[data-run="paused"]')).toBeVisible()
  const held = (await log(page)).length
  await page.waitForTimeout(600)
  expect((await log(page)).length).toBe(held)
  await page.locator('[data-reading]').first().click()
  await expect(page.getByRole('dialog')).toContainText('940 940 940')
  await clean(page)
  await page.keyboard.press('Escape')
  await press(page, 'Space')
  await idle(page)
})

test('a meter in trouble is named, its bad readings are kept, and trying again goes on', async ({ page }) => {
  await beginSession(page)
  const { before, sweep } = await prepare(page)
  await bench().simulate({ faults: [{ kind: 'meter-negative', times: 3 }] })
  await press(page, 'Space')
  await expect(page.locator('[data-run="stopped"]')).toBeVisible()
  await expect(page.getByText(/light below zero.*kept and marked/)).toBeVisible()
  expect((await log(page)).filter((t) => t.includes('bad'))).toHaveLength(3)
  await clean(page)
  await press(page, 'Space')
  await idle(page)
  expect(await log(page)).toHaveLength(before + sweep + 3)
})

test('words where numbers belong are refused where they stand, and kept', async ({ page }) => {
  await page.goto(`${ADDRESS()}/units/2`)
  await page.getByLabel('White, cd/m²').fill('bright')
  await page.getByRole('button', { name: /Begin (SDR|it again)/ }).click()
  await expect(page.getByText(/“bright” is not a number/)).toBeVisible()
  await expect(page.getByText(/Nothing was sent.*that was typed stays/)).toBeVisible()
  await expect(page.getByLabel('White, cd/m²')).toHaveValue('bright')
  await page.getByLabel('White, cd/m²').fill('9999')
  await page.getByRole('button', { name: /Begin (SDR|it again)/ }).click()
  await expect(page.getByText(/between 5 and 4000/)).toBeVisible()

  await beginSession(page, { luminance: '120,5' })
  await press(page, 'g')
  await page.getByLabel('Luminance of white').fill('dim')
  await page.getByRole('button', { name: 'Set this target' }).click()
  await expect(page.getByText(/“dim” is not a number. The target stays at 120.5/)).toBeVisible()
  await page.getByLabel('Luminance of white').fill('90')
  await page.getByRole('button', { name: 'Set this target' }).click()
  await expect(page.getByRole('button', { name: '90 cd/m²' })).toBeVisible()
})

test('a value set by hand makes stale what rests on it', async ({ page }) => {
  await beginSession(page)
  await prepare(page)
  await bench().simulate({ speed: 0 })
  // Presets were measured, and white is still far off: what was read of it rests on the curve.
  await goUntil(page, GAINS)
  await press(page, 'e')
  await page.getByLabel('Control').selectOption({ label: 'Picture › Fine adjustment › Curve' })
  const value = page.getByRole('dialog').getByLabel(/^Value/)
  await value.selectOption((await value.inputValue()) === 'deeper' ? 'lighter' : 'deeper')
  await page.getByRole('button', { name: 'Set it and read' }).click()
  await expect(page.getByRole('dialog')).toBeHidden()
  await idle(page)
  await expect(
    page.getByRole('listitem').filter({ hasText: 'Two-point white balance' }).first(),
  ).toContainText('“Curve” changed since')
})

test('nothing that a visitor can ask for breaks the server', async ({ page }) => {
  for (const path of [
    '/nowhere',
    '/units/999',
    '/units/abc',
    '/sessions/0',
    '/sessions/99999999999',
    '/models/x',
    '/guides/x',
    '/guides/x.json',
    '/guides/x.md',
    '/guides/%E0%A4%A',
    '/units/%00',
    '/sessions/999/guide',
    '/sessions/999/patches',
    '/sessions/999/files',
    '/units/999/archive',
    '/corrections/new',
    '/models/x/learned',
    '/patterns/x',
    '/patterns/x/png',
    '/api/sessions/999/files/readings.csv',
    '/api/sessions/1/files/secrets',
    '/api/sessions/999/events/x',
  ]) {
    const response = await page.request.get(ADDRESS() + path)
    expect(response.status(), path).toBe(404)
  }
  await page.goto(`${ADDRESS()}/nowhere`)
  await expect(page.getByRole('heading', { name: 'Nothing at this address' })).toBeVisible()
  await clean(page)
  const command = (data: string) =>
    page.request.post(`${ADDRESS()}/api/sessions/1/commands`, {
      data,
      headers: { 'content-type': 'application/json' },
    })
  for (const body of [
    '',
    '{',
    '{}',
    '{"type":"go"}',
    '{"type":"go","revision":-1}',
    '{"type":"set","control":"x","value":null}',
  ])
    expect((await command(body)).status(), body).toBe(400)
  expect((await command('{"type":"retry"}')).status()).toBe(409)
  const health = await page.request.get(`${ADDRESS()}/api/health`)
  expect(await health.json()).toMatchObject({ status: 'ok', database: 'ok', bench: 'ok' })
})

test('a bench that goes away is named, and the run goes on when it is back', async ({ page }) => {
  await beginSession(page)
  const { before, sweep } = await prepare(page)
  await bench().simulate({ speed: 4 })
  await press(page, 'Space')
  await expect.poll(async () => (await log(page)).length).toBeGreaterThan(before + 1)
  const pid = pidOf('simulated/main')
  process.kill(pid, 'SIGKILL')
  await idle(page)
  expect(await log(page)).toHaveLength(before + sweep)
})

test('the loop works on a screen of a phone, without anything beyond its edge', async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 })
  await beginSession(page)
  const overflow = () =>
    page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)
  expect(await overflow()).toBe(0)
  await bench().simulate({ speed: 0 })
  await page.getByRole('button', { name: /Ready/ }).click()
  await expect(page.locator('main h1')).toContainText(/Check the signal|Default sweep/, { timeout: 120_000 })
  if ((await page.locator('main h1').textContent())?.includes('Check the signal'))
    await page.getByRole('button', { name: /Start the sweep/ }).click()
  await expect(page.locator('main h1')).toContainText('Default sweep', { timeout: 120_000 })
  await page.getByRole('button', { name: /Start the sweep/ }).click()
  await expect(page.locator('main h1')).toContainText('Depth', { timeout: 180_000 })
  expect(await overflow()).toBe(0)
  await clean(page)
})

test('nothing jumps while readings stream in', async ({ page }) => {
  await beginSession(page)
  const { before } = await prepare(page)
  await bench().simulate({ speed: 5 })
  await press(page, 'Space')
  await expect.poll(async () => (await log(page)).length).toBeGreaterThan(before + 1)
  await page.evaluate(() => {
    const shifts: number[] = []
    Object.assign(window, { shifts })
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) shifts.push((entry as unknown as { value: number }).value)
    }).observe({ type: 'layout-shift', buffered: false })
  })
  await expect.poll(async () => (await log(page)).length).toBeGreaterThan(before + 9)
  const shifts = await page.evaluate(() => (window as unknown as { shifts: number[] }).shifts)
  expect(shifts.reduce((a, b) => a + b, 0)).toBeLessThan(0.01)
  await idle(page)
})

test('each place keeps its own theme, by choice', async ({ page }) => {
  await page.goto(ADDRESS())
  await expect(page.locator('[data-theme="paper"]')).toBeVisible()
  await page.getByRole('button', { name: 'Dark' }).click()
  await expect(page.locator('[data-theme="dark"]')).toBeVisible()
  await clean(page)
  await page.goto(`${ADDRESS()}/sessions/1`)
  await expect(page.locator('[data-theme="dark"]')).toBeVisible()
  await page.getByRole('button', { name: 'Paper' }).click()
  await expect(page.locator('[data-theme="paper"]')).toBeVisible()
  expect(page.url()).toContain('/sessions/1')
  await ready(page)
  await clean(page)
})

test('keys: all are listed, a field and a window keep them to themselves', async ({ page }) => {
  await beginSession(page)
  await press(page, '?')
  await expect(page.getByRole('dialog')).toContainText('Targets and policy')
  await press(page, 'Space')
  await page.keyboard.press('Escape')
  await expect(page.getByRole('dialog')).toBeHidden()
  expect(await step(page)).toBe('prepare')
  await expect(page.locator('[data-run="none"]')).toBeVisible()
  await press(page, 't')
  await expect(page.getByRole('button', { name: /^Reading log/ })).toHaveAttribute('aria-expanded', 'false')
  await prepare(page)
  await bench().simulate({ speed: 0 })
  await takeStep(page)
  await press(page, 'n')
  await expect(page.getByRole('listitem').filter({ hasText: 'Luminance' }).first()).toContainText('skipped')
  await expect(page.locator('main h1')).not.toContainText('Depth')
  await press(page, 'b')
  await expect(page.locator('main h1')).toContainText('Depth')
  await press(page, 'e')
  await expect(page.getByRole('dialog')).toContainText('now 84, from 0 to 100')
  await page
    .getByRole('dialog')
    .getByLabel(/^Value/)
    .fill('lots')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/“lots” is not a number. “Depth” stays at 84/)).toBeVisible()
  await page
    .getByRole('dialog')
    .getByLabel(/^Value/)
    .fill('400')
  await page.keyboard.press('Enter')
  await expect(page.getByText(/goes from 0 to 100, not to 400/)).toBeVisible()
  await page
    .getByRole('dialog')
    .getByLabel(/^Value/)
    .fill('30')
  await page.keyboard.press('Enter')
  await expect(page.getByRole('dialog')).toBeHidden()
  await idle(page)
  await expect(page.getByLabel('Last adjustment')).toContainText('Depth 84 → 30')
  await press(page, 'z')
  await expect(page.getByLabel('Last adjustment')).toContainText('Undone: Depth 30 → 84')
})

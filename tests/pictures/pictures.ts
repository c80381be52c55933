/** `npm run pictures`: takes the pictures of the documentation anew, from demo data made for it. */
import { resolve } from 'node:path'
import { chromium, type Page } from '@playwright/test'
import { benchClient } from '#bench/client'
import { CHROMIUM } from '#tests/browser'
import { removeScratch, scratchEnvironment, startDemo } from '#tests/demo'

const folder = resolve(import.meta.dirname, '../../docs/screenshots')
const env = await scratchEnvironment()
const demo = await startDemo(env)
const browser = await chromium.launch(CHROMIUM)
const shoot = async (page: Page, name: string) => {
  await page.waitForTimeout(400)
  await page.screenshot({ path: resolve(folder, `${name}.png`) })
  console.log(name)
}
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
  const idle = () => page.locator('[data-run="none"]').waitFor({ timeout: 90_000 })
  const space = async () => {
    const before = (await page.locator('main h1').textContent()) ?? ''
    await page.keyboard.press('Space')
    await page.waitForFunction((text) => document.querySelector('main h1')?.textContent !== text, before)
    await idle()
  }
  await page.goto(demo.address)
  await shoot(page, 'home')
  await page.goto(`${demo.address}/models/ostrel-maren`)
  await shoot(page, 'model')
  await page.goto(`${demo.address}/units/2`)
  await shoot(page, 'unit')
  await page.getByRole('button', { name: /Begin SDR/ }).click()
  await page.waitForURL('**/sessions/*')
  await page.locator('[data-ready]').waitFor()
  await space()
  // A sweep while it goes on, paused so that the picture is the same each time.
  await benchClient(demo.benchUrl).simulate({ speed: 5 })
  await page.keyboard.press('Space')
  await page.locator('[data-reading]').nth(5).waitFor()
  await page.keyboard.press('p')
  await page.locator('[data-run="paused"]').waitFor()
  await shoot(page, 'bench-sweep')
  await page.keyboard.press('Space')
  await idle()
  await benchClient(demo.benchUrl).simulate({ speed: 12 })
  await shoot(page, 'bench-luminance')
  for (let i = 0; i < 12; i++) {
    const words = (await page.locator('main h1').textContent()) ?? ''
    if (words.includes('Cut, blue') && !words.includes('Gain')) await shoot(page, 'bench-next-move')
    if (words.includes('Verification')) break
    await space()
  }
  await space()
  await shoot(page, 'bench-before-after')
  await page.keyboard.press('Space')
  await page.waitForURL('**/guide')
  await shoot(page, 'guide-desk')
  await page.goto(`${demo.address}/guides/ostrel-maren-55-sdr-dark`)
  await shoot(page, 'guide')
  await page.setViewportSize({ width: 390, height: 844 })
  await page.goto(`${demo.address}/guides/ostrel-maren-55-sdr-dark`)
  await shoot(page, 'guide-phone')
} finally {
  await browser.close()
  await demo.stop()
  removeScratch(env)
}

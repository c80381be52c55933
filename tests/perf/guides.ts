import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import { build } from 'esbuild'
import { CHROMIUM } from '#tests/browser'
import type { Demo } from '#tests/demo'
import { quantile } from './calibration'

type Tell = (what: string, measured: string, wanted: string) => void

/** What copying does to 10,000 units of a display, as a case is composed: in a program that is bundled as those of the application are. */
export const copying = async (tell: Tell): Promise<void> => {
  const folder = mkdtempSync(join(process.cwd(), '.perf-'))
  try {
    const file = join(folder, 'copying.mjs')
    await build({
      entryPoints: [join(import.meta.dirname, 'copying-run.ts')],
      outfile: file,
      bundle: true,
      format: 'esm',
      platform: 'node',
      packages: 'external',
      logLevel: 'silent',
    })
    const { blocks, ms } = JSON.parse(execFileSync(process.execPath, [file], { encoding: 'utf8' })) as {
      blocks: number
      ms: number
    }
    tell(`copying ${blocks} blocks to 10,000 simulated units`, `${(ms / 1000).toFixed(2)} s`, 'at most 1 s')
  } finally {
    rmSync(folder, { recursive: true, force: true })
  }
}

/** The public guide in a browser: how much script comes with it, and when it is painted. */
export const guideInBrowser = async (demo: Demo, tell: Tell): Promise<void> => {
  const browser = await chromium.launch(CHROMIUM)
  try {
    const scripts = new Map<string, number>()
    const paints: number[] = []
    for (let i = 0; i < 5; i++) {
      const page = await browser.newPage({ viewport: { width: 390, height: 844 } })
      page.on('response', async (r) => {
        // A page that is closed before its last script came is counted with the next.
        if (r.request().resourceType() === 'script')
          scripts.set(r.url(), gzipSync(await r.body().catch(() => Buffer.alloc(0))).length)
      })
      await page.goto(`${demo.address}/guides/ostrel-maren-55`, { waitUntil: 'networkidle' })
      paints.push(
        await page.evaluate(
          () =>
            new Promise<number>((resolve) => {
              new PerformanceObserver((list) => resolve(list.getEntries().at(-1)!.startTime)).observe({
                type: 'largest-contentful-paint',
                buffered: true,
              })
            }),
        ),
      )
      await page.close()
    }
    const bytes = [...scripts.values()].reduce((sum, n) => sum + n, 0)
    tell(
      'public guide, compressed script',
      `${(bytes / 1024).toFixed(0)} KB`,
      'at most 60 KB, none needed to read',
    )
    tell(
      'public guide, largest paint',
      `${quantile(paints, 0.95).toFixed(0)} ms at most of 5`,
      'under 1000 ms',
    )
  } finally {
    await browser.close()
  }
}

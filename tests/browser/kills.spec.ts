import { type ChildProcess, spawn } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { expect, test } from '@playwright/test'
import { strFromU8, unzipSync } from 'fflate'
import { uniform } from '#core/random'

import { removeScratch, scratchEnvironment, startDemo } from '#tests/demo'

const KILLS = Number(process.env.WEXMAR_KILLS ?? 50)
const SEED = 417
const VICTIMS = ['runner/main', 'ops/web', 'simulated/main', 'mariadbd'] as const

type Shown = Map<string, string>

test.setTimeout(1_800_000)

test(`${KILLS} kills of runner, web, bench and database: no reading that was shown is lost, none is doubled`, async ({
  page,
}) => {
  const env = await scratchEnvironment()
  const demo = await startDemo(env)
  const random = uniform(SEED)
  const strays: ChildProcess[] = []
  try {
    await page.goto(`${demo.address}/units/2`)
    await page.getByLabel('Picture mode to calibrate').selectOption({ label: 'Studio' })
    await page.getByRole('button', { name: /Begin (SDR|it again)/ }).click()
    await page.waitForURL('**/sessions/*')
    const session = Number(page.url().split('/').pop())
    /** Sends a command; undefined where nobody answers just now. */
    const ask = async (command: object): Promise<{ ok: boolean; error?: string } | undefined> => {
      try {
        const response = await fetch(`${demo.address}/api/sessions/${session}/commands`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(command),
          signal: AbortSignal.timeout(15_000),
        })
        const body = (await response.json()) as { error?: string }
        return { ok: response.ok, error: body.error }
      } catch {
        // Killed a moment ago; it comes back.
        return undefined
      }
    }
    const shown = async (): Promise<Shown> =>
      new Map(
        await page
          .locator('[data-reading]')
          .evaluateAll((all) =>
            all.map((e) => [(e as HTMLElement).dataset.reading!, (e as HTMLElement).dataset.taken!] as const),
          ),
      )
    const idle = () => page.locator('[data-run="none"]').count()
    const acknowledged: Shown = new Map()
    const begun = { both: 0, one: 0 }

    for (let kill = 0; kill < KILLS; kill++) {
      // Two tabs start the same run at once; one of them begins it.
      if (await idle()) {
        const answers = await Promise.all([
          ask({ type: 'sweep', sweep: 'grey-21' }),
          ask({ type: 'sweep', sweep: 'grey-21' }),
        ])
        if (answers.every((a) => a?.ok)) begun.both++
        if (answers.filter((a) => a?.ok).length === 1) begun.one++
      }
      // What a person would do who reads that something stopped.
      if ((await page.locator('[data-run="stopped"]').count()) > 0) await ask({ type: 'retry' })
      if (kill % 12 === 5) strays.push(secondRunner(demo.pidOf('runner/main')))
      await page.waitForTimeout(150 + 1_250 * random())
      for (const [id, taken] of await shown()) acknowledged.set(id, taken)
      const victim = VICTIMS[Math.floor(random() * VICTIMS.length)]!
      const pid = demo.pidOf(victim)
      if (pid) process.kill(pid, 'SIGKILL')
    }

    await expect
      .poll(
        async () => {
          if ((await page.locator('[data-run="stopped"]').count()) > 0) await ask({ type: 'retry' })
          return idle()
        },
        { timeout: 300_000, intervals: [500] },
      )
      .toBe(1)
    expect(begun.both).toBe(0)
    expect(begun.one).toBeGreaterThan(0)
    for (const [id, taken] of await shown()) acknowledged.set(id, taken)

    const archive = unzipSync(
      new Uint8Array(await (await fetch(`${demo.address}/units/2/archive`)).arrayBuffer()),
    )
    const rows = <T>(name: string) => JSON.parse(strFromU8(archive[name]!)) as T[]
    const tasks = rows<{ runId: number; ordinal: number; kind: string; outcome: string | null }>('tasks.json')
    const readings = rows<{ runId: number; task: number; fault: string | null; takenAt: string }>(
      'readings.json',
    )
    const kept = new Set(readings.map((r) => r.takenAt))
    expect(acknowledged.size).toBeGreaterThan(20)
    for (const [id, taken] of acknowledged) expect(kept, `reading ${id}`).toContain(taken)
    for (const task of tasks.filter((s) => s.kind === 'read' || s.kind === 'control')) {
      const own = readings.filter(
        (r) => r.runId === task.runId && r.task === task.ordinal && r.fault === null,
      )
      expect(own, `task ${task.ordinal} of run ${task.runId}`).toHaveLength(1)
      expect(task.outcome).toBe('done')
    }
  } catch (error) {
    // What the supervisor and the processes said is the first thing that whoever mends this wants to know.
    console.error(demo.output().slice(-4_000))
    for (const log of ['web', 'runner', 'database'])
      console.error(`${log}: ${readFileSync(`${demo.data}/log/${log}.log`, 'utf8').slice(-3_000)}`)
    console.error(`health: ${await answerOf(`${demo.address}/api/health`)}`)
    const session = page.url().split('/').pop()
    console.error(`events: ${await answerOf(`${demo.address}/api/sessions/${session}/events`)}`)
    throw error
  } finally {
    for (const stray of strays) stray.kill('SIGKILL')
    await demo.stop()
    removeScratch(env)
  }
})

/** The first that comes of an answer within a few seconds, or why nothing does. */
const answerOf = async (address: string): Promise<string> => {
  try {
    const response = await fetch(address, { signal: AbortSignal.timeout(8_000) })
    const first = await response.body?.getReader().read()
    return `${response.status} ${Buffer.from(first?.value ?? [])
      .toString('utf8')
      .slice(0, 300)}`
  } catch (error) {
    return (error as Error).message
  }
}

/** Another runner beside the first, with its environment. */
const secondRunner = (pid: number | undefined): ChildProcess => {
  const env: Record<string, string> = {}
  if (pid)
    for (const pair of readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0')) {
      const at = pair.indexOf('=')
      if (at > 0) env[pair.slice(0, at)] = pair.slice(at + 1)
    }
  return spawn(process.execPath, ['--import', 'tsx', 'src/bench/runner/main.ts'], {
    env: { ...process.env, ...env },
    stdio: 'ignore',
  })
}

import { createServer } from 'node:net'
import { expect, test } from '@playwright/test'
import { removeScratch, scratchEnvironment, spawnDemo, startDemo } from '#tests/demo'

const CHILDREN = ['mariadbd', 'simulated/main', 'runner/main', 'ops/pilot', 'ops/web']

test('bin/demo says in one line what is in its way, and leaves nothing running', async () => {
  const env = await scratchEnvironment()
  const port = Number(env.WEXMAR_PORT)
  const squatter = createServer()
  await new Promise<void>((done) => squatter.listen(port, '127.0.0.1', done))
  const taken = spawnDemo(env)
  expect(await taken.ended).toBe(1)
  expect(taken.output()).toContain(`Port ${port} for the web application is taken.`)
  await new Promise((done) => squatter.close(done))

  const inside = spawnDemo({ ...env, WEXMAR_DATA: `${process.cwd()}/data` })
  expect(await inside.ended).toBe(1)
  expect(inside.output()).toMatch(/inside the checkout\. Set it to a folder elsewhere/)

  const wrong = spawnDemo(env, ['--rest'])
  expect(await wrong.ended).toBe(1)
  expect(wrong.output()).toContain('bin/demo knows --reset, not --rest.')
  removeScratch(env)
})

test('a start that was killed is tidied up by the next, which keeps the data; Ctrl-C ends all', async () => {
  const env = await scratchEnvironment()
  const first = await startDemo(env)
  const database = first.pidOf('mariadbd')
  const before = CHILDREN.map((part) => first.pidOf(part)!)
  first.process.kill('SIGKILL')
  await expect.poll(() => first.process.killed).toBe(true)
  const second = await startDemo(env)
  expect(second.output()).toContain(`left process ${database} behind; ending it`)
  expect(second.output()).toContain('Demo data: there')
  for (const pid of before) expect(() => process.kill(pid, 0)).toThrow()
  const guides = await (await fetch(`${second.address}/guides`)).text()
  expect(guides).toContain('Ostrel Maren 55 settings')
  const again = spawnDemo(env)
  expect(await again.ended).toBe(1)
  expect(again.output()).toMatch(/already running with this WEXMAR_DATA/)

  const children = CHILDREN.map((part) => second.pidOf(part)!)
  process.kill(second.pidOf('runner/main')!, 'SIGKILL')
  await expect.poll(() => second.output()).toContain('The runner process runs again.')
  expect(await second.stop()).toBeLessThan(20_000)
  for (const pid of children) expect(() => process.kill(pid, 0)).toThrow()
  removeScratch(env)
})

import { removeScratch, startDemo, wholeDemo } from '#tests/demo'

/** Starts one demo for all browser tests; they find it through the environment, which may name one that runs already. */
export default async () => {
  if (process.env.WEXMAR_TEST_ADDRESS) return
  const env = await wholeDemo()
  const demo = await startDemo(env)
  process.env.WEXMAR_TEST_ADDRESS = demo.address
  process.env.WEXMAR_TEST_BENCH = demo.benchUrl
  process.env.WEXMAR_TEST_DATA = demo.data
  process.env.WEXMAR_TEST_DB_PORT = env.WEXMAR_DB_PORT
  return async () => {
    await demo.stop()
    removeScratch(env)
  }
}

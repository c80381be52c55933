import { startScratchDatabase } from '#tests/environment'

/** Starts the one database server that all database tests share. */
export default async () => {
  const server = await startScratchDatabase()
  process.env.WEXMAR_TEST_DATABASE = server.url
  return server.stop
}

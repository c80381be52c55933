import { followWorker } from '#server/background'

export const dynamic = 'force-dynamic'

/** The worker that keeps a follow-along on a phone. */
export const GET = async () =>
  new Response(new Uint8Array(await followWorker()), {
    headers: { 'content-type': 'text/javascript; charset=utf-8', 'cache-control': 'no-cache' },
  })

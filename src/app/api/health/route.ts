import { health } from '#server/background'
import { context } from '#server/base'

export const dynamic = 'force-dynamic'

export const GET = async () => {
  const found = await health(context())
  return Response.json(found, { status: found.status === 'ok' ? 200 : 503 })
}

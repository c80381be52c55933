import { readersAsset } from '#server/background'

export const dynamic = 'force-dynamic'

/** A stylesheet or font of readers' pages; its name changes with what it holds. */
export const GET = async (_: Request, { params }: { params: Promise<{ file: string }> }) => {
  const found = await readersAsset((await params).file)
  return found
    ? new Response(new Uint8Array(found.bytes), {
        headers: { 'content-type': found.type, 'cache-control': 'public, max-age=31536000, immutable' },
      })
    : Response.json({ error: 'There is no such file.' }, { status: 404 })
}

import { context, guideAt, readingsOfGuide } from '#server'

export const dynamic = 'force-dynamic'

export const GET = async (_: Request, { params }: { params: Promise<{ slug: string }> }) => {
  const at = await guideAt(context(), (await params).slug)
  if (at?.kind === 'moved')
    return new Response(null, { status: 308, headers: { location: `/guides/${at.slug}.json` } })
  if (!at) return Response.json({ error: 'There is no published guide at this address.' }, { status: 404 })
  const { document, withdrawn, ...about } = at.guide
  return withdrawn
    ? Response.json({ error: `This guide was withdrawn. ${withdrawn}` }, { status: 410 })
    : Response.json({ ...about, ...document, readings: await readingsOfGuide(context(), document) })
}

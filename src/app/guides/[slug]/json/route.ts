import { context, publicGuide } from '#server'

export const dynamic = 'force-dynamic'

export const GET = async (_: Request, { params }: { params: Promise<{ slug: string }> }) => {
  const guide = await publicGuide(context(), (await params).slug)
  return guide
    ? Response.json(guide)
    : Response.json({ error: 'There is no published guide at this address.' }, { status: 404 })
}

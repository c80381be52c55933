import { answering } from '#app/http'
import { context } from '#server/base'
import { guideAt } from '#server/guide'

export const dynamic = 'force-dynamic'

/** Which revision of a guide is public now, and whether it was withdrawn: what a page that stays open, or was kept, asks. */
export const GET = (_: Request, { params }: { params: Promise<{ slug: string }> }) =>
  answering(async () => {
    const at = await guideAt(context(), (await params).slug)
    if (at?.kind !== 'guide')
      return Response.json({ error: 'There is no published guide at this address.' }, { status: 404 })
    const { revision, withdrawn } = at.guide
    return Response.json({ revision, withdrawn }, { headers: { 'cache-control': 'no-store' } })
  })

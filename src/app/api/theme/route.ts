import { z } from 'zod'

const Choice = z.object({ place: z.enum(['bench', 'desk']), theme: z.enum(['paper', 'dark']) })
const YEAR = 365 * 24 * 3600

/** Only back to a page of this application: a path that no browser takes for another host. */
const pageOf = (referer: string | null, host: string | null): string => {
  const from = referer && URL.canParse(referer) ? new URL(referer) : undefined
  return from && from.host === host && /^\/(?![/\\])[\x21-\x7e]*$/.test(from.pathname) ? from.pathname : '/'
}

/** Remembers the theme that a visitor chose for a place, and goes back to where they were. Needs no script. */
export const POST = async (request: Request) => {
  const form = await request.formData().catch(() => new FormData())
  const choice = Choice.safeParse(Object.fromEntries(form))
  if (!choice.success) return Response.json({ error: 'There is no such theme.' }, { status: 400 })
  const { place, theme } = choice.data
  return new Response(null, {
    status: 303,
    headers: {
      location: pageOf(request.headers.get('referer'), request.headers.get('host')),
      'set-cookie': `theme-${place}=${theme}; Path=/; Max-Age=${YEAR}; SameSite=Lax; HttpOnly`,
    },
  })
}

import { z } from 'zod'

const Choice = z.object({ place: z.enum(['bench', 'desk']), theme: z.enum(['paper', 'dark']) })
const YEAR = 365 * 24 * 3600

/** Remembers the theme that a visitor chose for a place, and goes back to where they were. Needs no script. */
export const POST = async (request: Request) => {
  const form = await request.formData().catch(() => new FormData())
  const choice = Choice.safeParse(Object.fromEntries(form))
  const from = request.headers.get('referer')
  const page = from && URL.canParse(from) ? new URL(from) : undefined
  // Only back to a page of this application.
  const back = page?.host === request.headers.get('host') ? page.pathname : '/'
  const headers = new Headers({ location: back })
  if (choice.success)
    headers.set(
      'set-cookie',
      `theme-${choice.data.place}=${choice.data.theme}; Path=/; Max-Age=${YEAR}; SameSite=Lax; HttpOnly`,
    )
  return new Response(null, { status: 303, headers })
}

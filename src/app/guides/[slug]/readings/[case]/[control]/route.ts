import { readersAnswer } from '#app/readers'

export const dynamic = 'force-dynamic'

/** The readings behind one published value. */
export const GET = async (
  request: Request,
  { params }: { params: Promise<{ slug: string; case: string; control: string }> },
) => readersAnswer(request, { page: 'readings', ...(await params) })

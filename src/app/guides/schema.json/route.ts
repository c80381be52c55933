import { guideFileSchema } from '#server'

/** What the data of a guide hold, as JSON Schema. */
export const GET = () => Response.json(guideFileSchema())

import { guideFileSchema } from '#server/files'

/** What the data of a guide hold, as JSON Schema. */
export const GET = () => Response.json(guideFileSchema())

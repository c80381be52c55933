import { z } from 'zod'

/** What the reader of a guide is doing, in the order in which a guide has it: film first, as most readers begin. */
export const ViewingCase = z.enum([
  'sdr-dark',
  'sdr-bright',
  'hdr-film',
  'hdr-film-dynamic',
  'sdr-game',
  'hdr-game',
  'desktop',
])
export type ViewingCase = z.infer<typeof ViewingCase>

export const CASE_LABEL: Readonly<Record<ViewingCase, string>> = {
  'sdr-dark': 'SDR, dark room',
  'sdr-bright': 'SDR, bright room',
  'hdr-film': 'HDR film',
  'hdr-film-dynamic': 'HDR film, dynamic metadata',
  'sdr-game': 'SDR game',
  'hdr-game': 'HDR game',
  desktop: 'Desktop',
}

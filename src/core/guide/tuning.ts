/** Viewing cases in the order in which a guide has them: film first, as most readers begin. */
export const CASE_ORDER: readonly string[] = [
  'sdr-dark',
  'sdr-bright',
  'hdr-film',
  'hdr-film-dynamic',
  'sdr-game',
  'hdr-game',
  'desktop',
]

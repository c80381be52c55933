/** A row id from an address, or undefined where the text is none. */
export const idOf = (text: string): number | undefined =>
  /^[1-9]\d{0,8}$/.test(text) ? Number(text) : undefined

/** Colours of the theme that an element stands in, for canvases. */
export interface Palette {
  readonly ground: string
  readonly ink: string
  readonly soft: string
  readonly faint: string
  readonly line: string
  readonly lamp: string
}

/** Reads the theme's colours at an element. */
export const paletteOf = (element: Element): Palette => {
  const style = getComputedStyle(element)
  const of = (name: string) => style.getPropertyValue(`--${name}`).trim()
  return {
    ground: of('ground'),
    ink: of('ink'),
    soft: of('soft'),
    faint: of('faint'),
    line: of('line'),
    lamp: of('lamp'),
  }
}

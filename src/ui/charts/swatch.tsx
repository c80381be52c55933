/** A field of one colour: a picture, not a style, so that a page needs none of its own. In: 8-bit channel values. */
export const Swatch = ({ rgb, className }: { rgb: readonly number[]; className: string }) => (
  <svg aria-hidden="true" className={className} preserveAspectRatio="none">
    <rect width="100%" height="100%" fill={`rgb(${rgb.join(' ')})`} />
  </svg>
)

/** Looks that hang on figures, set on the element itself: the page's own policy takes no style from its text. */
export const styled =
  (style: Readonly<Record<string, string>>) =>
  (element: HTMLElement | null): void => {
    for (const [name, value] of Object.entries(style)) element?.style.setProperty(name, value)
  }

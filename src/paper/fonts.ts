import { readFileSync } from 'node:fs'
import { join } from 'node:path'

/** Where the fonts of a package lie. Every program of Wexmar runs in its folder; a bundler that followed the name would bring all of them along. */
const filesOf = (name: string) => join(process.cwd(), 'node_modules', '@fontsource', name, 'files')

/** A font that ships with Wexmar, for pictures and paper: family, weight, what of the alphabet it holds. */
interface Shipped {
  readonly name: string
  readonly weight: 400 | 600
  readonly file: string
}

const archivo = (subset: string, weight: 400 | 600): Shipped => ({
  name: subset === 'latin' ? 'Archivo' : `Archivo ${subset}`,
  weight,
  file: join(filesOf('archivo'), `archivo-${subset}-${weight}-normal.woff`),
})

/** Menus are written in more alphabets than one font holds: what the first lacks, the next gives. */
const SHIPPED: readonly Shipped[] = [
  archivo('latin', 400),
  archivo('latin', 600),
  archivo('latin-ext', 400),
  archivo('latin-ext', 600),
  ...(['greek', 'cyrillic'] as const).map(
    (subset): Shipped => ({
      name: `Noto ${subset}`,
      weight: 400,
      file: join(filesOf('noto-sans'), `noto-sans-${subset}-400-normal.woff`),
    }),
  ),
  {
    name: 'Noto Math',
    weight: 400,
    file: join(filesOf('noto-sans-math'), 'noto-sans-math-latin-400-normal.woff'),
  },
]

/** Families in the order in which a letter is looked for. */
export const FAMILIES: readonly string[] = [...new Set(SHIPPED.map((f) => f.name))]
export const shippedFonts = (): readonly Shipped[] => SHIPPED

/** The same with the bytes of each. */
export const fontBytes = (): Array<Pick<Shipped, 'name' | 'weight'> & { readonly data: Buffer }> =>
  SHIPPED.map(({ name, weight, file }) => ({ name, weight, data: readFileSync(file) }))

import { readFile } from 'node:fs/promises'
import { extname, join } from 'node:path'

/** The built folder of readers' pages: their stylesheet with its fonts, and one that holds its fonts. */
export const readersFolder = (root: string, dist: string): string => join(root, dist, 'processes', 'readers')
/** Says in the folder which file is which; their names change with what they hold. */
export const READERS_INDEX = 'index.json'
export interface ReadersIndex {
  /** Name of the stylesheet in the folder, with its fonts beside it. */
  readonly sheet: string
  /** Name of the stylesheet that needs no other file. */
  readonly whole: string
}

const folder = () => readersFolder(process.cwd(), process.env.WEXMAR_DIST ?? '.next')
const TYPE: Readonly<Record<string, string>> = { '.css': 'text/css; charset=utf-8', '.woff2': 'font/woff2' }

/** A file of the folder by its name; undefined where there is none of that name. */
export const readersAsset = async (
  name: string,
): Promise<{ readonly bytes: Buffer; readonly type: string } | undefined> => {
  const type = TYPE[extname(name)]
  if (!type || !/^[\w-]+\.\w+$/.test(name)) return undefined
  try {
    return { bytes: await readFile(join(folder(), name)), type }
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return undefined
    throw error
  }
}

/** The stylesheet of readers' pages: where it lies, or its text where the page is to need nothing else. */
export const readersStyle = async (
  alone: boolean,
): Promise<{ readonly href: string } | { readonly text: string }> => {
  const { sheet, whole } = JSON.parse(await readFile(join(folder(), READERS_INDEX), 'utf8')) as ReadersIndex
  return alone ? { text: await readFile(join(folder(), whole), 'utf8') } : { href: `/readers/${sheet}` }
}

import { watch } from 'node:fs'
import { mkdir, readFile, writeFile } from 'node:fs/promises'
import { basename, join } from 'node:path'
import tailwind from '@tailwindcss/postcss'
import { build } from 'esbuild'
import postcss from 'postcss'
import { READERS_INDEX, type ReadersIndex, readersFolder } from '#server/background'

/** Builds one stylesheet into the folder. In: its source, whether its fonts lie beside it or in it. Out: its name there. */
const buildSheet = async (
  root: string,
  source: string,
  fonts: 'file' | 'dataurl',
  outdir: string,
): Promise<string> => {
  const folder = join(root, 'src/readers')
  const from = join(folder, source)
  const { css } = await postcss([tailwind({ base: root })]).process(await readFile(from, 'utf8'), { from })
  const { metafile } = await build({
    absWorkingDir: root,
    stdin: { contents: css, resolveDir: folder, sourcefile: source, loader: 'css' },
    outdir,
    entryNames: `${source.replace('.css', '')}-[hash]`,
    assetNames: '[name]-[hash]',
    bundle: true,
    minify: true,
    metafile: true,
    loader: { '.woff2': fonts },
    logLevel: 'silent',
  })
  return basename(Object.keys(metafile.outputs).find((file) => file.endsWith('.css'))!)
}

/** Builds what readers' pages look like: a stylesheet with its fonts beside it, and one for guides that are saved as a file. */
export const buildReadersStyle = async (root: string, dist: string): Promise<void> => {
  const folder = readersFolder(root, dist)
  await mkdir(folder, { recursive: true })
  const [sheet, whole] = await Promise.all([
    buildSheet(root, 'sheet.css', 'file', folder),
    buildSheet(root, 'whole.css', 'dataurl', folder),
  ])
  const index: ReadersIndex = { sheet, whole }
  await writeFile(join(folder, READERS_INDEX), JSON.stringify(index))
}

/** After an edit, others that come within this time are one with it, ms. */
const SETTLED_MS = 200

/** While Wexmar is developed: builds it anew after each edit of what it is made from. */
export const watchReadersStyle = (root: string, dist: string): void => {
  let due: NodeJS.Timeout | undefined
  const build = () =>
    void buildReadersStyle(root, dist).catch((error: Error) =>
      console.error(`The stylesheet of readers’ pages could not be built: ${error.message}`),
    )
  for (const folder of ['src/readers', 'src/ui'])
    watch(join(root, folder), { recursive: true, persistent: false }, () => {
      clearTimeout(due)
      due = setTimeout(build, SETTLED_MS)
    })
}

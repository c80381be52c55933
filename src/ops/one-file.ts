/** Gives what lies at an address of the application's own files, or undefined where nothing does. */
export type Asset = (path: string) => Promise<Buffer | undefined>

/** The basic Latin letters of a font, which is all that a saved page brings along: others come from the reader's own fonts. */
const BASIC_LATIN = /unicode-range:\s*u\+(?:0000|0|\?\?)(?:-0*ff)?/i

const mimeOf = (path: string): string => (path.endsWith('.woff2') ? 'font/woff2' : 'application/octet-stream')

/** Fonts of a stylesheet as part of it; those that are left out are dropped with what names them. */
const withFonts = async (css: string, base: string, asset: Asset): Promise<string> => {
  let out = ''
  let from = 0
  for (const face of css.matchAll(/@font-face\s*\{[^}]*\}/g)) {
    out += css.slice(from, face.index)
    from = face.index + face[0].length
    if (!BASIC_LATIN.test(face[0])) continue
    const url = /url\((["']?)([^"')]+)\1\)/.exec(face[0])
    const path = url && new URL(url[2]!, `http://here${base}`).pathname
    const bytes = path && (await asset(path))
    if (bytes) out += face[0].replace(url[0], `url(data:${mimeOf(path)};base64,${bytes.toString('base64')})`)
  }
  return out + css.slice(from)
}

/**
 * A page for readers as one file that needs nothing else: styles and letters within it, links that lead on from anywhere, no forms. In: the page without
 * programs; what gives its stylesheets and fonts; where readers reach the application. Out: page.
 */
export const inOneFile = async (html: string, asset: Asset, origin: string): Promise<string> => {
  let out = html
  for (const [link] of html.matchAll(/<link\b[^>]*rel="stylesheet"[^>]*>/g)) {
    const href = /href="([^"]+)"/.exec(link)?.[1]?.replaceAll('&amp;', '&')
    const path = href ? new URL(href, 'http://here').pathname : ''
    const css = await asset(path)
    const text = css ? await withFonts(css.toString('utf8'), path, asset) : ''
    // A closing tag within a style would end it.
    out = out.replace(link, () => `<style>${text.replaceAll('</', '<\\/')}</style>`)
  }
  return out
    .replace(/<link\b[^>]*rel="(?:preload|icon|manifest)"[^>]*>/g, '')
    .replace(/<form\b[\s\S]*?<\/form>/g, '')
    .replace(/\b(href|src)="\/(?!\/)/g, `$1="${origin}/`)
}

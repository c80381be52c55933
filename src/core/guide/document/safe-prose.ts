import { lexer, type Token, type Tokens } from 'marked'

/** An address that no link of a guide leads to: relative ones are told by it from those of another host. */
const HERE = 'https://here.invalid'

/** Whether a link of an editor’s text may be followed: to the web, to an address of mail, or to a place on this page or site. */
export const isSafeLink = (href: string): boolean => {
  if (!URL.canParse(href, HERE)) return false
  const { protocol, origin } = new URL(href, HERE)
  // As a browser reads it: “/\\host” and “/ /host” with a tab lead to another host.
  if (origin === HERE) return /^[/#]/.test(href)
  return /^(https?:\/\/|mailto:)/i.test(href) && ['http:', 'https:', 'mailto:'].includes(protocol)
}

interface Parts {
  readonly header?: readonly Tokens.TableCell[]
  readonly rows?: ReadonlyArray<readonly Tokens.TableCell[]>
  readonly items?: readonly Tokens.ListItem[]
  readonly tokens?: readonly Token[]
}
const within = (token: Token): readonly Token[] => {
  const { tokens = [], items = [], header = [], rows = [] } = token as Parts
  return [...[header, ...rows].flat().flatMap((cell) => cell.tokens), ...items, ...tokens]
}

/** What would be read as a link, a picture or HTML stands as text. */
const asText = (raw: string): string => raw.replace(/[![\]<>]/g, '\\$&')

const kept = (token: Token): string => {
  if (token.type === 'image' || token.type === 'html' || token.type === 'def') return asText(token.raw)
  if (token.type === 'link' && !isSafeLink((token as Tokens.Link).href)) return asText(token.raw)
  let out = ''
  let from = 0
  for (const inner of within(token)) {
    const at = token.raw.indexOf(inner.raw, from)
    if (at < 0) continue
    out += token.raw.slice(from, at) + kept(inner)
    from = at + inner.raw.length
  }
  return out + token.raw.slice(from)
}

/** An editor’s text in Markdown with which no reader of it follows a program, opens a picture of another host, or draws HTML. */
export const safeProse = (markdown: string): string =>
  lexer(markdown, { gfm: true, breaks: true }).map(kept).join('')

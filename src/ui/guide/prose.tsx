import { lexer, type Token, type Tokens } from 'marked'
import { createElement, Fragment, type ReactNode } from 'react'
import { isSafeLink } from '#core/guide/document'

/** What the parser writes for letters that HTML reads as its own; React does that itself. */
const plain = (text: string): string =>
  text
    .replaceAll('&lt;', '<')
    .replaceAll('&gt;', '>')
    .replaceAll('&quot;', '"')
    .replaceAll('&#39;', "'")
    .replaceAll('&amp;', '&')

/** One after the other. A text stands still, so that nothing in it needs a key. */
const inTurn = (nodes: readonly ReactNode[]): ReactNode => createElement(Fragment, null, ...nodes)
const inline = (tokens: readonly Token[] = []): ReactNode => inTurn(tokens.map(piece))

const piece = (token: Token): ReactNode => {
  switch (token.type) {
    case 'strong':
      return <strong>{inline(token.tokens)}</strong>
    case 'em':
      return <em>{inline(token.tokens)}</em>
    case 'br':
      return <br />
    case 'link': {
      const { href, tokens } = token as Tokens.Link
      return isSafeLink(href) ? (
        <a className="link" href={href} rel="nofollow noopener">
          {inline(tokens)}
        </a>
      ) : (
        inline(tokens)
      )
    }
    case 'text':
    case 'escape': {
      const { text, tokens } = token as Tokens.Text
      return tokens ? inline(tokens) : plain(text)
    }
    default:
      // Whatever else a text may hold, HTML too, is shown as it was written.
      return token.raw
  }
}

const li = ({ tokens }: Tokens.ListItem): ReactNode =>
  createElement('li', null, ...tokens.map((token) => (token.type === 'text' ? piece(token) : block(token))))

const List = ({ ordered, items }: Tokens.List) =>
  createElement(
    ordered ? 'ol' : 'ul',
    { className: `my-2 pl-6 ${ordered ? 'list-decimal' : 'list-disc'}` },
    ...items.map(li),
  )

const tr = (cells: readonly Tokens.TableCell[]): ReactNode =>
  createElement(
    'tr',
    null,
    ...cells.map(({ header, tokens }) =>
      createElement(header ? 'th' : 'td', header ? { scope: 'col' } : null, inline(tokens)),
    ),
  )

const Table = ({ header, rows }: Tokens.Table) => (
  <div className="my-3 overflow-x-auto">
    <table className="quiet-table">
      <thead>{tr(header)}</thead>
      <tbody>{inTurn(rows.map(tr))}</tbody>
    </table>
  </div>
)

const block = (token: Token): ReactNode => {
  switch (token.type) {
    case 'space':
      return null
    case 'heading':
      return <h3 className="mt-4 mb-1 font-semibold text-xl">{inline(token.tokens)}</h3>
    case 'list':
      return List(token as Tokens.List)
    case 'table':
      return Table(token as Tokens.Table)
    case 'paragraph':
      return <p className="mt-2 max-w-2xl">{inline(token.tokens)}</p>
    default:
      return <p className="mt-2 max-w-2xl">{token.raw}</p>
  }
}

/** What an editor wrote, from Markdown: paragraphs, headings, lists, links, small tables. Nothing else of it is markup. */
export const Prose = ({ text }: { text: string }) =>
  inTurn(lexer(text, { gfm: true, breaks: true }).map(block))

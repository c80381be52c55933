import type { ReactElement, ReactNode } from 'react'
import { CARD } from '#core/guide/document'
import type { PublicGuide } from '#server/guide'
import { PublicShell, StructuredData } from '#ui/guide'
import { Surface, type Theme } from '#ui/static'

/** What stands around every page for readers. */
export interface Around {
  readonly theme: Theme
  /** Where its stylesheet lies, or the stylesheet itself where the page is to need nothing else. */
  readonly style: { readonly href: string } | { readonly text: string }
  /** Where readers reach this installation: `https://guides.example`. */
  readonly origin: string
}

/** A page for readers: what its head says, and what stands on it. */
export interface Page {
  readonly title: string
  readonly head?: ReactNode
  readonly body: ReactNode
  /** White, without header and footer. */
  readonly paper?: true
}

/** What the head of a guide's page says to those who read it by machine. */
export const guideHead = ({ slug, publishedAt, document }: PublicGuide, origin: string): ReactNode => {
  const address = `${origin}/guides/${slug}`
  return (
    <>
      <meta name="description" content={document.summary} />
      <link rel="canonical" href={address} />
      <meta property="og:type" content="article" />
      <meta property="og:title" content={document.title} />
      <meta property="og:description" content={document.summary} />
      <meta property="og:url" content={address} />
      <meta property="og:image" content={`${address}/card.png`} />
      <meta property="og:image:width" content={String(CARD.width)} />
      <meta property="og:image:height" content={String(CARD.height)} />
      <meta
        property="og:image:alt"
        content={`Greyscale error of ${document.title} by level, before and after`}
      />
      <StructuredData guide={{ slug, publishedAt, document }} origin={origin} />
    </>
  )
}

const Style = ({ style }: Pick<Around, 'style'>) =>
  'href' in style ? (
    <link rel="stylesheet" href={style.href} />
  ) : (
    // A closing tag within a style would end it.
    <style>{style.text.replaceAll('</', '<\\/')}</style>
  )

/** The head and the body of a page's document. In: page, what stands around it; name that the header shows. */
export const documentOf = (
  { title, head, body, paper }: Page,
  { theme, style }: Around,
  desk: string,
): { readonly head: ReactElement; readonly body: ReactElement } => ({
  head: (
    <>
      <meta charSet="utf-8" />
      <meta name="viewport" content="width=device-width, initial-scale=1" />
      <title>{title}</title>
      {'href' in style && <link rel="icon" href="/icon.svg" type="image/svg+xml" />}
      <Style style={style} />
      {head}
    </>
  ),
  body: paper ? (
    <Surface theme="paper">{body}</Surface>
  ) : (
    <PublicShell theme={theme} desk={desk} alone={'text' in style}>
      {body}
    </PublicShell>
  ),
})

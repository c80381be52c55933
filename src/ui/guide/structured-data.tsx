import type { GuideDocument } from '#core/guide/document'

/** A guide in the words of schema.org, for those who read pages by machine: an article on how to set a display. */
export const StructuredData = ({
  guide,
  origin,
}: {
  guide: { readonly slug: string; readonly publishedAt: string; readonly document: GuideDocument }
  origin: string
}) => {
  const { document, slug, publishedAt } = guide
  const { maker, model, sizeInch } = document.display
  const data = {
    '@context': 'https://schema.org',
    '@type': 'TechArticle',
    headline: document.title,
    description: document.summary,
    url: `${origin}/guides/${slug}`,
    dateModified: publishedAt,
    author: { '@type': 'Organization', name: document.cases[0]!.method.desk },
    about: {
      '@type': 'Product',
      name: `${maker} ${model} ${sizeInch}`,
      brand: { '@type': 'Brand', name: maker },
      model,
    },
    hasPart: document.cases.map((c) => ({
      '@type': 'TechArticle',
      headline: c.viewingCase.label,
      url: `${origin}/guides/${slug}#${c.viewingCase.key}`,
    })),
  }
  // A closing tag within a text would end the script.
  return <script type="application/ld+json">{JSON.stringify(data).replaceAll('<', '\\u003c')}</script>
}

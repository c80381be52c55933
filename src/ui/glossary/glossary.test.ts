// biome-ignore lint/style/noRestrictedImports: a test may read the document that it holds the page to.
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { TERMS } from './terms'

describe('the glossary', () => {
  const document = readFileSync('docs/glossary.md', 'utf8')
  it.each(Object.values(TERMS).map((t) => [t.term, t.says] as const))(
    '%s says the same in the document and on the page',
    (term, says) => {
      expect(document).toContain(`- **${term}.** ${says}`)
    },
  )
})

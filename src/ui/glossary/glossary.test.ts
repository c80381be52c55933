import { describe, expect, it } from 'vitest'
import { documentOf } from '#tests/documents'
import { TERMS } from './terms'

describe('the glossary', () => {
  const document = documentOf('glossary.md')
  it.each(Object.values(TERMS).map((t) => [t.term, t.says] as const))(
    '%s says the same in the document and on the page',
    (term, says) => {
      expect(document).toContain(`- **${term}.** ${says}`)
    },
  )
})

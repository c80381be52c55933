import { describe, expect, it } from 'vitest'
import { isSafeLink, safeProse } from './safe-prose'

describe('a link of an editor’s text', () => {
  it('leads to the web, to mail, or to a place here', () => {
    for (const href of [
      'https://example.org/a?b=1',
      'http://example.org',
      'mailto:desk@example.org',
      '/guides',
      '/',
      '#values',
    ])
      expect(isSafeLink(href), href).toBe(true)
  })
  it('runs nothing, and is not taken for one of this site where a browser would leave it', () => {
    for (const href of [
      'javascript:alert(1)',
      'JaVaScRiPt:alert(1)',
      ' javascript:alert(1)',
      'java\tscript:alert(1)',
      'data:text/html,x',
      'vbscript:x',
      '//evil.example',
      '/\\evil.example',
      '\\\\evil.example',
      '/\t/evil.example',
      '/\n\\evil.example',
      'evil.example',
      '',
    ])
      expect(isSafeLink(href), JSON.stringify(href)).toBe(false)
  })
})

describe('an editor’s text as Markdown for others', () => {
  it('stays as it was written where nothing is wrong with it', () => {
    const text =
      '### Before you begin\n\nGet the **remote**, see [how](https://example.org/a).\n\n- one\n- *two*, [here](#values)\n\n| a | b |\n| - | - |\n| 1 | [x](/guides) |\n'
    expect(safeProse(text)).toBe(text)
  })
  it('has no link that runs something, no picture and no HTML, wherever they stand', () => {
    for (const bad of [
      '[x](javascript:alert(1))',
      '[x](/\\evil.example)',
      '![x](https://example.org/track.png)',
      '<img src=x onerror=alert(1)>',
      '<javascript:alert(1)>',
      '[x]: javascript:alert(1)\n\n[x]',
    ])
      for (const around of [
        (s: string) => s,
        (s: string) => `- ${s}`,
        (s: string) => `**${s}**`,
        (s: string) => `| a | b |\n| - | - |\n| ${s} | 2 |`,
      ]) {
        const out = safeProse(around(bad))
        // Read again, as another program would, nothing of it is a link, a picture or HTML.
        expect(safeProse(out)).toBe(out)
        expect(out).not.toMatch(/(?<!\\)!\[|(?<!\\)\]\((?:javascript|\/\\)|(?<!\\)<(?:img|java)/)
      }
  })
})

import { createElement } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import { Prose } from './prose'

const drawn = (text: string): string => renderToStaticMarkup(createElement(Prose, { text }))

describe('what an editor wrote', () => {
  it('is drawn with headings, lists, links and tables', () => {
    expect(drawn('### Before you begin\n\nGet the **remote** and *time*.')).toMatch(
      /<h3[^>]*>Before you begin<\/h3><p[^>]*>Get the <strong>remote<\/strong> and <em>time<\/em>\.<\/p>/,
    )
    expect(drawn('- one\n- two')).toMatch(/<ul[^>]*><li>one<\/li><li>two<\/li><\/ul>/)
    expect(drawn('1. one\n2. one')).toMatch(/<ol[^>]*><li>one<\/li><li>one<\/li><\/ol>/)
    expect(drawn('[measured](https://example.org/a?b=1&c=2)')).toContain(
      '<a class="link" href="https://example.org/a?b=1&amp;c=2" rel="nofollow noopener">measured</a>',
    )
    expect(drawn('| a | b |\n| - | - |\n| 1 | 2 |')).toMatch(
      /<th scope="col">a<\/th>.*<td>1<\/td><td>2<\/td>/,
    )
  })
  it('keeps lines and signs as they were typed', () => {
    expect(drawn('One.\nTwo & "three" < 4')).toMatch(/One\.<br\/>Two &amp; &quot;three&quot; &lt; 4/)
    expect(drawn('cinema\\_2, \\*not\\* bold')).toContain('cinema_2, *not* bold')
  })
  it('runs nothing: HTML is shown as text, and links lead to the web alone', () => {
    const hostile = [
      '<script>alert(1)</script>',
      '<img src=x onerror=alert(1)>',
      'a <b onclick="x">b</b>',
      '[x](javascript:alert(1))',
      '[x](data:text/html,<script>)',
      '[x](//evil.example)',
      '[x](/\\evil.example)',
      '![x](https://example.org/track.png)',
      '<javascript:alert(1)>',
    ]
    for (const text of hostile) {
      const html = drawn(text)
      expect(html, text).not.toMatch(/<(script|img|b|iframe)\b/)
      expect(html, text).not.toMatch(/href="(?!https?:|mailto:|\/[^/\\]|#)/)
      expect(html, text).not.toMatch(/on\w+="/)
    }
  })
})

import { mergeAttributes, Node } from '@tiptap/core'
import type { GuideField } from '#core/guide/document'

/** A figure of the guide within a text, shown as it is measured now; kept as its name in braces, so that it follows what is measured. */
export const FieldNode = Node.create<{ fields: ReadonlyMap<string, GuideField> }>({
  name: 'guideField',
  group: 'inline',
  inline: true,
  atom: true,
  addOptions: () => ({ fields: new Map() }),
  addAttributes: () => ({ key: { default: '' } }),
  parseHTML: () => [{ tag: 'span[data-guide-field]' }],
  renderHTML({ node, HTMLAttributes }) {
    const key = String(node.attrs.key)
    const field = this.options.fields.get(key)
    return [
      'span',
      mergeAttributes(HTMLAttributes, {
        'data-guide-field': key,
        class: field ? 'guide-field' : 'guide-field guide-field-lost',
        title: field ? field.label : 'This figure is no longer there.',
      }),
      field?.shown ?? key,
    ]
  },
  renderText: ({ node }) => `{{${node.attrs.key}}}`,
  markdownTokenName: 'guideField',
  markdownTokenizer: {
    name: 'guideField',
    level: 'inline',
    start: (text) => text.indexOf('{{'),
    tokenize: (text) => {
      const found = /^\{\{([a-z0-9/-]{1,120})\}\}/.exec(text)
      return found ? { type: 'guideField', raw: found[0], text: found[1]! } : undefined
    },
  },
  parseMarkdown: (token) => ({ type: 'guideField', attrs: { key: token.text } }),
  renderMarkdown: (node) => `{{${node.attrs?.key ?? ''}}}`,
})

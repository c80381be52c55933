'use client'

import { Document } from '@tiptap/extension-document'
import { Paragraph } from '@tiptap/extension-paragraph'
import { TableKit } from '@tiptap/extension-table'
import { Text } from '@tiptap/extension-text'
import { Markdown } from '@tiptap/markdown'
import { type Editor, EditorContent, useEditor, useEditorState } from '@tiptap/react'
import { StarterKit } from '@tiptap/starter-kit'
import { Popover } from 'radix-ui'
import { useEffect, useId, useRef, useState } from 'react'
import type { GuideField } from '#core/guide/document'
import { useTheme } from '#ui/desk'
import { FieldNode } from './field-node'

/** What a text may hold: words and figures alone, or headings, lists, links and tables as well. */
export type TextKind = 'line' | 'rich'

const extensionsFor = (kind: TextKind, fields: ReadonlyMap<string, GuideField>) => [
  ...(kind === 'rich'
    ? [
        StarterKit.configure({
          heading: { levels: [3] },
          link: { openOnClick: false, autolink: true, protocols: ['mailto'] },
          blockquote: false,
          code: false,
          codeBlock: false,
          horizontalRule: false,
          strike: false,
          underline: false,
        }),
        TableKit.configure({ table: { resizable: false } }),
      ]
    : [Document, Paragraph, Text]),
  FieldNode.configure({ fields }),
  Markdown.configure({ markedOptions: { gfm: true, breaks: true } }),
]

/** A text of one kind as it is kept. */
const textOf = (editor: Editor, kind: TextKind): string =>
  kind === 'rich' ? editor.getMarkdown().trim() : editor.getText({ blockSeparator: ' ' }).trim()

/** A figure in braces within plain words, as the editor holds it. */
const lineContent = (text: string) => ({
  type: 'doc',
  content: [
    {
      type: 'paragraph',
      content: text
        .split(/(\{\{[a-z0-9/-]{1,120}\}\})/)
        .filter(Boolean)
        .map((part) =>
          part.startsWith('{{')
            ? { type: 'guideField', attrs: { key: part.slice(2, -2) } }
            : { type: 'text', text: part },
        ),
    },
  ],
})

const setText = (editor: Editor, kind: TextKind, text: string): void => {
  const options = { emitUpdate: false }
  if (kind === 'rich') editor.commands.setContent(text, { ...options, contentType: 'markdown' })
  else editor.commands.setContent(lineContent(text), options)
}

const MOST_SHOWN = 40

/** Puts a figure of the guide where the cursor stands. */
const FieldPicker = ({ editor, fields }: { editor: Editor; fields: readonly GuideField[] }) => {
  const theme = useTheme()
  const [open, setOpen] = useState(false)
  const [search, setSearch] = useState('')
  const words = search.toLowerCase().split(/\s+/).filter(Boolean)
  const found = fields.filter((f) => words.every((w) => f.label.toLowerCase().includes(w)))
  return (
    <Popover.Root
      open={open}
      onOpenChange={(now) => {
        setOpen(now)
        setSearch('')
      }}
    >
      <Popover.Trigger type="button" className="link">
        Figure …
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          data-theme={theme}
          align="start"
          sideOffset={6}
          className="z-20 w-80 border border-ink bg-ground p-3 text-ink shadow-lg"
          onCloseAutoFocus={(e) => {
            e.preventDefault()
            editor.view.focus()
          }}
        >
          <label className="grid gap-1 text-sm text-soft">
            A figure that was measured, or a value
            <input
              className="field"
              value={search}
              maxLength={60}
              onChange={(e) => setSearch(e.target.value)}
              placeholder="white, gain …"
            />
          </label>
          <ul className="mt-2 max-h-64 overflow-y-auto">
            {found.slice(0, MOST_SHOWN).map((f) => (
              <li key={f.key}>
                <button
                  type="button"
                  className="flex w-full items-baseline gap-3 py-1.5 text-left hover:underline"
                  onClick={() => {
                    editor
                      .chain()
                      .insertContent({ type: 'guideField', attrs: { key: f.key } })
                      .run()
                    setOpen(false)
                    // At once: what is typed next belongs to the text.
                    editor.view.focus()
                  }}
                >
                  <span className="flex-1 text-sm">{f.label}</span>
                  <strong className="num">{f.shown}</strong>
                </button>
              </li>
            ))}
          </ul>
          {found.length === 0 && <p className="mt-2 text-faint text-sm">No figure has this name.</p>}
          {found.length > MOST_SHOWN && (
            <p className="mt-1 text-faint text-sm">
              {found.length - MOST_SHOWN} more: type more of the name.
            </p>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

/** Asks where a link leads, beside the tools. */
const LinkTool = ({ editor, on }: { editor: Editor; on: boolean }) => {
  const theme = useTheme()
  const [open, setOpen] = useState(false)
  const [address, setAddress] = useState('')
  return (
    <Popover.Root
      open={open}
      onOpenChange={(now) => {
        setAddress(String(editor.getAttributes('link').href ?? ''))
        setOpen(now)
      }}
    >
      <Popover.Trigger type="button" className="link" aria-pressed={on} data-on={on || undefined}>
        Link
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          data-theme={theme}
          align="start"
          sideOffset={6}
          className="z-20 w-80 border border-ink bg-ground p-3 text-ink"
        >
          <form
            onSubmit={(e) => {
              e.preventDefault()
              e.stopPropagation()
              const href = address.trim()
              const chain = editor.chain().focus().extendMarkRange('link')
              if (href)
                chain.setLink({ href: /^(https?:|mailto:|\/|#)/.test(href) ? href : `https://${href}` }).run()
              else chain.unsetLink().run()
              setOpen(false)
            }}
          >
            <label className="grid gap-1 text-sm text-soft">
              Where it leads; empty for no link
              <input
                className="field"
                value={address}
                maxLength={500}
                onChange={(e) => setAddress(e.target.value)}
              />
            </label>
            <button type="submit" className="button button-quiet mt-2">
              Set the link
            </button>
          </form>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  )
}

const Tools = ({
  editor,
  kind,
  fields,
}: {
  editor: Editor
  kind: TextKind
  fields: readonly GuideField[]
}) => {
  const on = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now.isActive('bold'),
      italic: now.isActive('italic'),
      heading: now.isActive('heading'),
      list: now.isActive('bulletList'),
      steps: now.isActive('orderedList'),
      link: now.isActive('link'),
      table: now.isActive('table'),
    }),
  })
  const tool = (name: string, isOn: boolean, act: () => void) => (
    <button
      type="button"
      className="link"
      aria-pressed={isOn}
      data-on={isOn || undefined}
      // The text keeps the cursor while its tools are used.
      onMouseDown={(e) => e.preventDefault()}
      onClick={act}
    >
      {name}
    </button>
  )
  const chain = () => editor.chain().focus()
  return (
    <div role="toolbar" aria-label="Text tools" className="text-tools">
      {kind === 'rich' && (
        <>
          {tool('Bold', on.bold, () => chain().toggleBold().run())}
          {tool('Italic', on.italic, () => chain().toggleItalic().run())}
          {tool('Heading', on.heading, () => chain().toggleHeading({ level: 3 }).run())}
          {tool('List', on.list, () => chain().toggleBulletList().run())}
          {tool('Steps', on.steps, () => chain().toggleOrderedList().run())}
          <LinkTool editor={editor} on={on.link} />
          {on.table ? (
            <>
              {tool('Row', false, () => chain().addRowAfter().run())}
              {tool('Column', false, () => chain().addColumnAfter().run())}
              {tool('No table', false, () => chain().deleteTable().run())}
            </>
          ) : (
            tool('Table', false, () => chain().insertTable({ rows: 2, cols: 2, withHeaderRow: true }).run())
          )}
        </>
      )}
      <FieldPicker editor={editor} fields={fields} />
    </div>
  )
}

/**
 * A text of an editor with figures that follow what is measured. In: text as it is kept; what it may hold; figures that it may name; ids of its label and hint.
 * What is typed is told as text in turn.
 */
export const RichText = ({
  value,
  kind,
  fields,
  labelledBy,
  describedBy,
  rows,
  onChange,
  onBlur,
}: {
  value: string
  kind: TextKind
  fields: readonly GuideField[]
  labelledBy: string
  describedBy: string
  rows: number
  onChange: (text: string) => void
  onBlur: () => void
}) => {
  const id = useId()
  // A page that is asked for again brings the same figures in a new list: only others are another editor.
  const figures = fields.map((f) => `${f.key} ${f.shown}`).join('\n')
  const known = useRef({ figures: '', extensions: extensionsFor(kind, new Map()) })
  if (known.current.figures !== figures)
    known.current = { figures, extensions: extensionsFor(kind, new Map(fields.map((f) => [f.key, f]))) }
  /** Text that this editor holds: whatever else comes is somebody else’s. */
  const held = useRef(value)
  const editor = useEditor(
    {
      extensions: known.current.extensions,
      content: kind === 'rich' ? value : lineContent(value),
      ...(kind === 'rich' ? { contentType: 'markdown' as const } : {}),
      immediatelyRender: false,
      // A star or a hyphen that is typed is one: there are tools for the rest.
      enableInputRules: false,
      enablePasteRules: ['link'],
      injectCSS: false,
      editorProps: {
        attributes: {
          class: 'field rich-text',
          role: 'textbox',
          'aria-multiline': String(kind === 'rich'),
          'aria-labelledby': labelledBy,
          'aria-describedby': describedBy,
          style: `min-height: ${rows * 1.5 + 1}rem`,
        },
      },
      onUpdate: ({ editor: now }) => {
        held.current = textOf(now, kind)
        onChange(held.current)
      },
      onBlur: ({ event }) => {
        // Its own tools are part of it.
        const to = event.relatedTarget
        if (
          !(to instanceof Element && to.closest(`[data-text="${id}"], [data-radix-popper-content-wrapper]`))
        )
          onBlur()
      },
    },
    [figures],
  )
  useEffect(() => {
    if (!editor || value === held.current) return
    held.current = value
    setText(editor, kind, value)
  }, [editor, value, kind])
  if (!editor) return <div className="field rich-text whitespace-pre-line">{value}</div>
  return (
    <div data-text={id}>
      <Tools editor={editor} kind={kind} fields={fields} />
      <EditorContent editor={editor} />
    </div>
  )
}

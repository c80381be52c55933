'use client'

import { setNonce } from 'get-nonce'
import { Dialog as Radix } from 'radix-ui'
import type { ReactNode } from 'react'
import { useTheme } from '#ui/desk'

// What an open window does to the page's looks carries the word of this page's own scripts.
if (typeof document !== 'undefined')
  setNonce(document.querySelector<HTMLScriptElement>('script[nonce]')?.nonce ?? '')

/** A window over the page, closed by Escape, by its button or by a press beside it. */
export const Dialog = ({
  title,
  note,
  wide = false,
  onClose,
  children,
}: {
  title: string
  note?: string
  /** As wide as the page: for tables. */
  wide?: boolean
  onClose: () => void
  children: ReactNode
}) => {
  const theme = useTheme()
  return (
    <Radix.Root open onOpenChange={(open) => !open && onClose()}>
      <Radix.Portal>
        <div data-theme={theme}>
          <Radix.Overlay className="fixed inset-0 z-20 bg-black/60" />
          <Radix.Content
            onOpenAutoFocus={(event) => {
              // Where there is something to fill in, that is what the window was opened for.
              const window = event.target as HTMLElement
              const field =
                window.querySelector<HTMLElement>('[data-first]') ??
                window.querySelector<HTMLElement>('input, select')
              if (!field) return
              event.preventDefault()
              field.focus()
            }}
            className={`fixed top-1/2 left-1/2 z-30 max-h-[88dvh] -translate-1/2 overflow-y-auto border border-line bg-ground p-6 text-ink ${wide ? 'w-[96vw]' : 'w-[min(34rem,94vw)]'}`}
          >
            <div className="mb-4 flex items-start justify-between gap-6">
              <div>
                <Radix.Title className="figure text-2xl">{title}</Radix.Title>
                <Radix.Description className={note ? 'mt-1 text-sm text-soft' : 'sr-only'}>
                  {note ?? title}
                </Radix.Description>
              </div>
              <Radix.Close className="act text-sm">
                <span className="key">Esc</span> Close
              </Radix.Close>
            </div>
            {children}
          </Radix.Content>
        </div>
      </Radix.Portal>
    </Radix.Root>
  )
}

'use client'

import { useLayoutEffect } from 'react'
import type { KeyRow } from './key-table'

/**
 * Listens for keys while no field, button or window has them. `busy`: an answer of the server is on its way.
 * The listener changes together with the screen, before anything else can happen: a key always means what is shown.
 */
export const useKeys = (
  rows: readonly KeyRow[],
  perform: (row: KeyRow) => void,
  active: boolean,
  busy: boolean,
): void => {
  useLayoutEffect(() => {
    if (!active) return
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return
      const target = event.target as HTMLElement
      if (target.closest('input, textarea, select, [role="dialog"]')) return
      // A focused button or link keeps Enter and Space for itself.
      if ((event.key === ' ' || event.key === 'Enter') && target.closest('button, a, summary')) return
      const row = rows.find((r) => r.key === event.key.toLowerCase())
      if (!row || (busy && row.deed.kind === 'command')) return
      event.preventDefault()
      perform(row)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [rows, perform, active, busy])
}

'use client'

import { useLayoutEffect } from 'react'

/** Something that a key does now. */
export interface KeyAction {
  /** As `KeyboardEvent.key` gives it, lower case. */
  readonly key: string
  /** What stands on the key. */
  readonly cap: string
  readonly label: string
  readonly run: () => void
  /** It asks something of the server: not while an answer is on its way. */
  readonly asks?: boolean
  /** It stands only in the list of all keys. */
  readonly quiet?: boolean
}

/**
 * Listens for keys while no field, button or window has them. `busy`: an answer of the server is on its way.
 * The listener changes together with the screen, before anything else can happen: a key always means what is shown.
 */
export const useKeys = (actions: readonly KeyAction[], active: boolean, busy: boolean): void => {
  useLayoutEffect(() => {
    if (!active) return
    const listen = (event: KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return
      const target = event.target as HTMLElement
      if (target.closest('input, textarea, select, [role="dialog"]')) return
      // A focused button or link keeps Enter and Space for itself.
      if ((event.key === ' ' || event.key === 'Enter') && target.closest('button, a, summary')) return
      const action = actions.find((a) => a.key === event.key.toLowerCase())
      if (!action || (busy && action.asks)) return
      event.preventDefault()
      action.run()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [actions, active, busy])
}

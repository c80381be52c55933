'use client'

import { useEffect, useState } from 'react'

/**
 * What keeps the browser from showing single pixels as they are, in sentences; looked at again when the window changes. In: what to say of an HDR desktop; whether the page
 * fills the screen. Out: the sentences, and a count of the looks.
 */
export const useScreenTrouble = (
  inHdr: string,
  fillsScreen: () => boolean,
): { readonly trouble: readonly string[]; readonly looks: number } => {
  const [seen, setSeen] = useState<{ trouble: readonly string[]; looks: number }>({ trouble: [], looks: 0 })
  useEffect(() => {
    const look = () => {
      const trouble = [
        ...(window.devicePixelRatio % 1 === 0
          ? []
          : ['The browser is zoomed: single pixels cannot be drawn exactly. Set the zoom to 100 %.']),
        ...(window.matchMedia('(dynamic-range: high)').matches ? [inHdr] : []),
        ...(fillsScreen() ? [] : ['The page does not fill the screen yet.']),
      ]
      setSeen(({ looks }) => ({ trouble, looks: looks + 1 }))
    }
    look()
    window.addEventListener('resize', look)
    document.addEventListener('fullscreenchange', look)
    return () => {
      window.removeEventListener('resize', look)
      document.removeEventListener('fullscreenchange', look)
    }
  }, [inHdr, fillsScreen])
  return seen
}

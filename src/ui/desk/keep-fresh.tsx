'use client'

import { useRouter } from 'next/navigation'
import { useEffect } from 'react'

/** Loads what the page shows anew now and then, while something on it is going on. In: seconds between two looks. */
export const KeepFresh = ({ seconds }: { seconds: number }) => {
  const router = useRouter()
  useEffect(() => {
    const timer = setInterval(() => {
      if (!document.hidden) router.refresh()
    }, 1000 * seconds)
    return () => clearInterval(timer)
  }, [router, seconds])
  return null
}

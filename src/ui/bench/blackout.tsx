'use client'

import { useEffect, useRef, useState } from 'react'

/** A short soft tone, so that a person in a dark room hears that the dark patches are done. */
const chime = (): void => {
  const audio = new AudioContext()
  const tone = audio.createOscillator()
  const volume = audio.createGain()
  tone.frequency.value = 520
  volume.gain.setValueAtTime(0.08, audio.currentTime)
  volume.gain.exponentialRampToValueAtTime(0.001, audio.currentTime + 0.35)
  tone.connect(volume).connect(audio.destination)
  tone.start()
  tone.stop(audio.currentTime + 0.36)
  tone.onended = () => void audio.close()
}

/** Blacks the window out while dark patches are read, so that it does not light the screen under test. */
export const Blackout = ({ dark, patch }: { dark: boolean; patch: string }) => {
  const [away, setAway] = useState(false)
  const was = useRef(false)
  useEffect(() => {
    if (was.current && !dark) {
      setAway(false)
      chime()
    }
    was.current = dark
  }, [dark])
  useEffect(() => {
    if (!dark) return
    const listen = (event: KeyboardEvent) => event.key === 'Escape' && setAway(true)
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [dark])
  if (!dark || away) return null
  return (
    <button
      type="button"
      onClick={() => setAway(true)}
      className="fixed inset-0 z-10 flex items-end justify-center bg-black pb-8 text-sm text-[#7a7a7a]"
    >
      Reading {patch} in the dark. Esc or a press shows the page.
    </button>
  )
}

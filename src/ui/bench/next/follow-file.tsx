'use client'

import Papa from 'papaparse'
import { useEffect, useSyncExternalStore } from 'react'
import { readingsInLog } from '#core/formats'

/** How often the file is looked at, ms. */
const LOOK_MS = 500
/** By how much the signal that a line tells may differ from the patch that is asked for. */
const SAME_SIGNAL = 0.015

/** A file that a meter's program writes while it is read here, with how many of its lines were taken or passed over. */
interface Followed {
  readonly handle: FileSystemFileHandle
  readonly name: string
  readonly taken: number
}

type Picker = { showOpenFilePicker?: () => Promise<FileSystemFileHandle[]> }

/** One file for the page, whatever is asked meanwhile. */
let followed: Followed | undefined
const listeners = new Set<() => void>()
const tell = (next: Followed | undefined) => {
  followed = next
  for (const heard of listeners) heard()
}
const subscribe = (heard: () => void) => {
  listeners.add(heard)
  return () => listeners.delete(heard)
}

/** Lines of the file as cells; the last one may still be written and is left out. */
const linesOf = async (handle: FileSystemFileHandle): Promise<string[][]> => {
  const text = await (await handle.getFile()).text()
  const whole = text.slice(0, text.lastIndexOf('\n') + 1)
  return Papa.parse<string[]>(whole, { skipEmptyLines: true }).data
}

/**
 * Follows a meter's file: what it holds already is passed over, each reading that comes is taken for what is asked. In: signal of the patch that is
 * asked for; whether something waits; what takes a reading; what hears that a line belongs to another patch.
 */
export const FollowFile = ({
  signal,
  waits,
  onReading,
  onTrouble,
}: {
  /** What was taken is doubted or on its way: nothing more is taken. */
  waits: boolean
  /** 0…1. */
  signal: readonly number[]
  onReading: (text: string) => void
  onTrouble: (sentence: string) => void
}) => {
  const now = useSyncExternalStore(
    subscribe,
    () => followed,
    () => undefined,
  )
  useEffect(() => {
    if (!now || waits) return
    let busy = false
    const look = async () => {
      if (busy) return
      busy = true
      try {
        const found = readingsInLog(await linesOf(now.handle)).filter((r) => r.line >= now.taken)
        const [next] = found
        if (!next || followed !== now) return
        tell({ ...now, taken: next.line + 1 })
        const other = next.signal?.some((s, i) => Math.abs(s - signal[i]!) > SAME_SIGNAL)
        if (other)
          onTrouble(
            `The newest line of ${now.name} is of ${next.signal!.map((s) => Math.round(100 * s)).join(' ')} %, which is not asked for. It was passed over.`,
          )
        else onReading(next.xyz.map((v) => String(Number(v.toPrecision(7)))).join(' '))
      } catch (error) {
        onTrouble(`${now.name} cannot be read (${(error as Error).message}). It is no longer followed.`)
        tell(undefined)
      } finally {
        busy = false
      }
    }
    const timer = setInterval(() => void look(), LOOK_MS)
    return () => clearInterval(timer)
  }, [now, waits, signal, onReading, onTrouble])

  const begin = async () => {
    const picker = (window as unknown as Picker).showOpenFilePicker
    if (!picker)
      return onTrouble('This browser cannot follow a file. Paste the lines, or import the file under Files.')
    try {
      const [handle] = await picker.call(window)
      if (handle) tell({ handle, name: handle.name, taken: (await linesOf(handle)).length })
    } catch (error) {
      // Nothing was chosen.
      if ((error as Error).name !== 'AbortError')
        onTrouble(`The file cannot be read: ${(error as Error).message}.`)
    }
  }
  return now ? (
    <p role="status" className="flex flex-wrap items-baseline gap-3 text-sm text-soft">
      <span>Following {now.name}: its next reading is taken for what is asked.</span>
      <button type="button" className="link" onClick={() => tell(undefined)}>
        Stop
      </button>
    </p>
  ) : (
    <p>
      <button type="button" className="act text-sm" onClick={() => void begin()}>
        Follow the meter’s file
      </button>
    </p>
  )
}

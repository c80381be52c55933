import type { ReactNode } from 'react'
import type { NextView, SessionView } from '#server/view'
import { duration } from '#ui/static'
import type { BenchEvent, BenchState } from '../bench-state'
import type { Send } from '../use-session'

export type Of<K extends NextView['kind']> = Extract<NextView, { kind: K }>

export const Above = ({ children }: { children: ReactNode }) => <p className="text-soft">{children}</p>
export const takes = (seconds: number | undefined) =>
  seconds ? `Takes about ${duration(seconds)}.` : 'Takes well under a minute here.'

export interface Props {
  readonly view: SessionView
  readonly state: BenchState
  readonly dispatch: (event: BenchEvent) => void
  readonly send: Send
}

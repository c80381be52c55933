'use client'

import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useId,
  useRef,
  useState,
} from 'react'
import { type GuideField, WORDS_MOST } from '#core/guide'
import { RichText, type TextKind } from './rich-text'

/** Words of an editor at one place of a guide. */
export interface WordsAt {
  readonly body: string
  readonly version: number
  readonly basisChanged: boolean
}
export type WordsByPlace = Readonly<Record<string, WordsAt>>

/** Answer to words that were sent: the version that they got, or why not, with what somebody else wrote meanwhile. */
export interface Saved {
  readonly version?: number
  readonly error?: string
  readonly theirs?: { readonly body: string; readonly version: number }
}
export type SaveWords = (place: string, body: string, version: number) => Promise<Saved>

interface Desk {
  readonly fields: readonly GuideField[]
  readonly words: WordsByPlace
  readonly save: SaveWords
  readonly note: (place: string, words: WordsAt) => void
}
const DeskContext = createContext<Desk | null>(null)

/** How often the words of other editors are looked for, ms. */
const POLL = 4000

/** The words of a guide as they stand, those of other editors too. */
export const WordsDesk = ({
  guideId,
  words: begun,
  fields,
  save,
  children,
}: {
  guideId: number
  words: WordsByPlace
  /** Figures that texts may name. */
  fields: readonly GuideField[]
  save: SaveWords
  children: ReactNode
}) => {
  const [words, setWords] = useState(begun)
  useEffect(() => {
    const poll = setInterval(async () => {
      if (document.hidden) return
      // One that fails is followed by the next.
      const answer = await fetch(`/api/guides/${guideId}/words`).catch(() => undefined)
      if (!answer?.ok) return
      const now = (await answer.json()) as Record<string, Pick<WordsAt, 'body' | 'version'>>
      setWords((all) => {
        // What was just written rests on what is there now.
        const newer = Object.entries(now).filter(([place, w]) => w.version > (all[place]?.version ?? 0))
        if (newer.length === 0) return all
        return { ...all, ...Object.fromEntries(newer.map(([p, w]) => [p, { ...w, basisChanged: false }])) }
      })
    }, POLL)
    return () => clearInterval(poll)
  }, [guideId])
  const note = useCallback((place: string, own: WordsAt) => setWords((all) => ({ ...all, [place]: own })), [])
  return <DeskContext.Provider value={{ fields, words, save, note }}>{children}</DeskContext.Provider>
}

/** How long nothing is typed before what was typed is saved, ms. */
const PAUSE = 700
const NONE: WordsAt = { body: '', version: 0, basisChanged: false }

/**
 * A text of an editor: saved while it is typed, never over what somebody else has written. In: place; what stands there without words of an editor;
 * how many lines it shows.
 */
export const WordsField = ({
  place,
  label,
  proposal,
  hint,
  rows = 3,
  kind = 'plain',
}: {
  place: string
  label: string
  proposal: string
  hint?: string
  rows?: number
  /** Plain words, words with figures, or headings, lists, links and tables too. */
  kind?: 'plain' | TextKind
}) => {
  const most = WORDS_MOST[place.split(':')[0] as keyof typeof WORDS_MOST]
  const desk = useContext(DeskContext)
  if (!desk) throw new Error('A text of a guide stands outside its desk')
  const held = desk.words[place] ?? NONE
  const id = useId()
  const [text, setText] = useState(held.body || proposal)
  const [state, setState] = useState<'still' | 'typed' | 'saving' | 'saved'>('still')
  const [problem, setProblem] = useState('')
  const [theirs, setTheirs] = useState<Saved['theirs']>()
  const version = useRef(held.version)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  // What others wrote is shown where nothing is being typed here.
  useEffect(() => {
    if (held.version <= version.current || state === 'typed' || state === 'saving' || theirs) return
    version.current = held.version
    setText(held.body || proposal)
    setState('still')
  }, [held, proposal, state, theirs])
  useEffect(() => () => clearTimeout(timer.current), [])

  const store = async (body: string, seen = version.current) => {
    clearTimeout(timer.current)
    setState('saving')
    const own = body.trim() === proposal.trim() ? '' : body
    const answer = await desk.save(place, own, seen)
    if (answer.version !== undefined) {
      version.current = answer.version
      desk.note(place, { body: own, version: answer.version, basisChanged: false })
      setTheirs(undefined)
      setProblem('')
      setState('saved')
      return
    }
    setProblem(answer.error ?? '')
    setTheirs(answer.theirs)
    setState('typed')
  }
  const type = (body: string) => {
    setText(body)
    setState('typed')
    clearTimeout(timer.current)
    // An empty text is one that is being written anew: what is proposed comes back only when it is left.
    if (body.trim() || !proposal) timer.current = setTimeout(() => void store(body), PAUSE)
  }
  const leave = () => {
    if (state !== 'typed' || theirs) return
    if (!text.trim()) setText(proposal)
    void store(text.trim() ? text : proposal)
  }
  return (
    <div>
      <div className="mb-1 flex items-baseline gap-3 text-sm text-soft">
        {kind === 'plain' ? (
          <label htmlFor={id} className="flex-1">
            {label}
          </label>
        ) : (
          <span id={`${id}-label`} className="flex-1">
            {label}
          </span>
        )}
        <output className="text-faint">
          {state === 'saving'
            ? 'Saving …'
            : state === 'typed'
              ? 'Not saved yet'
              : state === 'saved'
                ? 'Saved'
                : ''}
        </output>
      </div>
      {kind === 'plain' ? (
        <textarea
          id={id}
          className="field"
          rows={rows}
          value={text}
          maxLength={most}
          onChange={(e) => type(e.target.value)}
          onBlur={leave}
          aria-describedby={`${id}-more`}
        />
      ) : (
        <RichText
          value={text}
          kind={kind}
          fields={desk.fields}
          labelledBy={`${id}-label`}
          describedBy={`${id}-more`}
          rows={rows}
          onChange={type}
          onBlur={leave}
        />
      )}
      <p id={`${id}-more`} className={problem ? 'text-lamp text-sm' : 'text-faint text-sm'}>
        {problem || (text.length > most ? `${text.length - most} characters too many.` : hint)}
      </p>
      {theirs && (
        <div className="mt-2 border border-lamp p-3 text-sm">
          <p className="text-faint">Written meanwhile:</p>
          <p className="my-1 whitespace-pre-line">{theirs.body || proposal}</p>
          <div className="flex gap-4">
            <button
              type="button"
              className="link"
              onClick={() => {
                version.current = theirs.version
                setText(theirs.body || proposal)
                setTheirs(undefined)
                setProblem('')
                setState('still')
              }}
            >
              Take theirs
            </button>
            <button type="button" className="link" onClick={() => void store(text, theirs.version)}>
              Keep mine
            </button>
          </div>
        </div>
      )}
      {held.basisChanged && !theirs && (
        <p className="mt-1 flex flex-wrap gap-3 text-lamp text-sm">
          What this was written about has changed.
          <button type="button" className="link" onClick={() => void store(text)}>
            It is still right
          </button>
          <button type="button" className="link" onClick={() => type(proposal)}>
            Take the new proposal
          </button>
        </p>
      )}
    </div>
  )
}

/** What a class of transfer is kept as: the class, and why it is said to travel better than its role does. */
interface Classed {
  readonly transfer: string
  readonly reason: string
}
const classedIn = (body: string): Classed | undefined => {
  try {
    return body ? (JSON.parse(body) as Classed) : undefined
  } catch {
    // Kept by a later version in another way: the role's own class is shown.
    return undefined
  }
}

/** Chooses how a value travels: more caution at once, less with a reason. In: place of the words; the class of its role; labels. */
export const ClassField = ({
  place,
  own,
  labels,
}: {
  place: string
  own: string
  labels: Readonly<Record<string, string>>
}) => {
  const desk = useContext(DeskContext)
  if (!desk) throw new Error('A class of a guide stands outside its desk')
  const held = desk.words[place] ?? NONE
  const now = classedIn(held.body) ?? { transfer: own, reason: '' }
  const id = useId()
  const [wanted, setWanted] = useState(now)
  const [problem, setProblem] = useState('')
  const store = async (entry: Classed) => {
    setWanted(entry)
    const body = entry.transfer === own ? '' : JSON.stringify(entry)
    const answer = await desk.save(place, body, held.version)
    setProblem(answer.error ?? '')
    if (answer.version !== undefined) desk.note(place, { body, version: answer.version, basisChanged: false })
    else if (answer.theirs)
      desk.note(place, { body: answer.theirs.body, version: answer.theirs.version, basisChanged: false })
  }
  return (
    <div className="grid gap-2">
      <div>
        <label htmlFor={id} className="mb-1 block text-sm text-soft">
          Safe to copy?
        </label>
        <select
          id={id}
          className="field"
          value={wanted.transfer}
          onChange={(e) => void store({ ...wanted, transfer: e.target.value })}
        >
          {Object.entries(labels).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
              {value === own ? ' (by its role)' : ''}
            </option>
          ))}
        </select>
      </div>
      {wanted.transfer !== own && (
        <div>
          <label htmlFor={`${id}-why`} className="mb-1 block text-sm text-soft">
            Why, for readers
          </label>
          <input
            id={`${id}-why`}
            className="field"
            value={wanted.reason}
            maxLength={600}
            onChange={(e) => setWanted({ ...wanted, reason: e.target.value })}
            onBlur={() => void store(wanted)}
          />
        </div>
      )}
      {problem && <p className="text-lamp text-sm">{problem}</p>}
    </div>
  )
}

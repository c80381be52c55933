'use client'

import { useRouter } from 'next/navigation'
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
import { type GuideField, WORDS_MOST } from '#core/guide/document'
import type { SeenDraft } from '#core/guide/formats'
import { RichText, type TextKind } from './rich-text'
import { type Saved, type Saver, type SaverState, saver } from './saver'

/** Words of an editor at one place of a guide. */
export interface WordsAt {
  readonly body: string
  readonly version: number
  readonly basisChanged: boolean
}
export type WordsByPlace = Readonly<Record<string, WordsAt>>
export type SaveWords = (place: string, body: string, version: number) => Promise<Saved>

interface Desk {
  readonly fields: readonly GuideField[]
  readonly words: WordsByPlace
  readonly save: SaveWords
  readonly note: (place: string, words: WordsAt) => void
  /** Fields with words that may not be saved yet, by place. */
  readonly open: Map<string, Pick<Saver, 'flush'>>
  readonly plainDigest: string
}
const DeskContext = createContext<Desk | null>(null)

const useDesk = (): Desk => {
  const desk = useContext(DeskContext)
  if (!desk) throw new Error('A text of a guide stands outside its desk')
  return desk
}

/** Said where something rests on words that could not be saved. */
const NOT_SAVED = 'Some of what you typed is not saved yet: it is marked. Nothing was sent; try again then.'

/**
 * What forms of a desk need of its texts: `saved` saves what was typed and answers what is wrong where it could not; `seen` tells what its editor sees of
 * the draft, own words included.
 */
export const useDeskWords = () => {
  const { open, words, plainDigest } = useDesk()
  const newest = useRef(words)
  newest.current = words
  const saved = async (): Promise<string> => {
    const all = await Promise.all([...open.values()].map((one) => one.flush()))
    return all.every(Boolean) ? '' : NOT_SAVED
  }
  const seen = (): SeenDraft => ({
    plain: plainDigest,
    words: Object.fromEntries(Object.entries(newest.current).map(([place, w]) => [place, w.version])),
  })
  return { saved, seen }
}

/** How often the words of other editors are looked for, ms. */
const POLL = 4000
/** How long nothing is typed before the rest of the page follows what was saved, ms. */
const FOLLOW = 2500

/** The words of a guide as they stand, those of other editors too. */
export const WordsDesk = ({
  guideId,
  words: begun,
  fields,
  save,
  plainDigest,
  children,
}: {
  guideId: number
  words: WordsByPlace
  /** Figures that texts may name. */
  fields: readonly GuideField[]
  save: SaveWords
  /** What tells what is computed of the draft from any other. */
  plainDigest: string
  children: ReactNode
}) => {
  const router = useRouter()
  const [words, setWords] = useState(begun)
  const [open] = useState(() => new Map<string, Pick<Saver, 'flush'>>())
  const follow = useRef<ReturnType<typeof setTimeout>>(undefined)
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
    // Closing the page would lose what nobody has taken yet.
    const leaving = (event: BeforeUnloadEvent) => {
      if (open.size > 0) event.preventDefault()
    }
    window.addEventListener('beforeunload', leaving)
    const back = () => void Promise.all([...open.values()].map((one) => one.flush()))
    window.addEventListener('online', back)
    return () => {
      clearInterval(poll)
      clearTimeout(follow.current)
      window.removeEventListener('beforeunload', leaving)
      window.removeEventListener('online', back)
    }
  }, [guideId, open])
  const note = useCallback(
    (place: string, own: WordsAt) => {
      setWords((all) => ({ ...all, [place]: own }))
      // Checks, differences and what can be published rest on the words.
      clearTimeout(follow.current)
      follow.current = setTimeout(() => router.refresh(), FOLLOW)
    },
    [router],
  )
  return (
    <DeskContext.Provider value={{ fields, words, save, note, open, plainDigest }}>
      {children}
    </DeskContext.Provider>
  )
}

/** How long nothing is typed before what was typed is saved, ms. */
const PAUSE = 700
const NONE: WordsAt = { body: '', version: 0, basisChanged: false }
const STANDS = {
  still: '',
  typed: 'Not saved yet',
  saving: 'Saving …',
  saved: 'Saved',
  unsent: 'Not saved yet',
}

/** Saving of the words of one place. In: place. Out: what is held there, how it stands, and what saves. */
const useSaver = (place: string) => {
  const desk = useDesk()
  const held = desk.words[place] ?? NONE
  const [state, setState] = useState<SaverState>({ kind: 'still' })
  const now = useRef(desk)
  now.current = desk
  const [one] = useState(() =>
    saver(
      (body, version) => now.current.save(place, body, version),
      held.version,
      (told) => {
        if (told.kind === 'saved') now.current.open.delete(place)
        setState(told)
      },
      (body, version) => now.current.note(place, { body, version, basisChanged: false }),
    ),
  )
  /** Says that words are being typed which `flush` saves. */
  const typed = useCallback(
    (flush: Saver['flush']) => {
      now.current.open.set(place, { flush })
      setState({ kind: 'typed' })
    },
    [place],
  )
  /** Gives up what was typed. */
  const calm = useCallback(() => {
    now.current.open.delete(place)
    setState({ kind: 'still' })
  }, [place])
  return { desk, held, state, one, typed, calm }
}

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
  const { desk, held, state, one, typed, calm } = useSaver(place)
  const id = useId()
  const [text, setText] = useState(held.body || proposal)
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined)
  const { theirs, problem = '' } = state
  // What others wrote is shown where nothing is being typed here.
  useEffect(() => {
    if (held.version <= one.version() || (state.kind !== 'still' && state.kind !== 'saved')) return
    one.restOn(held.version)
    setText(held.body || proposal)
    calm()
  }, [held, proposal, state, one, calm])
  useEffect(() => () => clearTimeout(timer.current), [])

  const store = (body: string) => {
    clearTimeout(timer.current)
    one.put(body.trim() === proposal.trim() ? '' : body)
  }
  const type = (body: string) => {
    setText(body)
    // An empty text is one that is being written anew: what is proposed comes back only when it is left.
    const whole = body.trim() || proposal
    typed(() => {
      store(whole)
      return one.flush()
    })
    clearTimeout(timer.current)
    if (body.trim() || !proposal) timer.current = setTimeout(() => store(body), PAUSE)
  }
  const leave = () => {
    if (state.kind !== 'typed' || theirs) return
    if (!text.trim()) setText(proposal)
    store(text.trim() ? text : proposal)
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
        <output className={state.kind === 'unsent' ? 'text-lamp' : 'text-faint'}>{STANDS[state.kind]}</output>
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
          <p className="text-faint">Their text:</p>
          <p className="my-1 whitespace-pre-line">{theirs.body || proposal}</p>
          <div className="flex gap-4">
            <button
              type="button"
              className="link"
              onClick={() => {
                one.restOn(theirs.version)
                setText(theirs.body || proposal)
                calm()
              }}
            >
              Take theirs
            </button>
            <button
              type="button"
              className="link"
              onClick={() => {
                one.restOn(theirs.version)
                store(text)
              }}
            >
              Keep mine
            </button>
          </div>
        </div>
      )}
      {held.basisChanged && !theirs && (
        <p className="mt-1 flex flex-wrap gap-3 text-lamp text-sm">
          What this was written about has changed.
          <button type="button" className="link" onClick={() => store(text)}>
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
  const { held, state, one, typed } = useSaver(place)
  const now = classedIn(held.body) ?? { transfer: own, reason: '' }
  const id = useId()
  const [wanted, setWanted] = useState(now)
  const store = (entry: Classed) => {
    setWanted(entry)
    typed(one.flush)
    // Somebody else’s choice is what this one rests on: both are seen in the list.
    one.restOn(state.theirs?.version ?? Math.max(held.version, one.version()))
    one.put(entry.transfer === own ? '' : JSON.stringify(entry))
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
          onChange={(e) => store({ ...wanted, transfer: e.target.value })}
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
            onBlur={() => store(wanted)}
          />
        </div>
      )}
      {state.problem && <p className="text-lamp text-sm">{state.problem}</p>}
    </div>
  )
}

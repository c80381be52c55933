'use client'

import Image from 'next/image'
import { useEffect, useId, useRef, useState } from 'react'
import { NoteEntry, PhotoNoteEntry } from '#core/entry'
import { type Answer, Field, FormProblem, useEntry } from '#ui/form'
import { type SmallJpeg, smallJpeg } from './small-jpeg'

/** Where a note belongs. */
interface Place {
  readonly unit: number
  /** Session and step at which it is written at the bench. */
  readonly session?: number
  readonly step?: string
}

/** Sends a note with a photograph. Out: what is wrong, where something is. */
const sendPhoto = async ({ unit, session, step }: Place, text: string, photo: Blob): Promise<Answer> => {
  const form = new FormData()
  form.set('text', text)
  if (session !== undefined) form.set('session', String(session))
  if (step !== undefined) form.set('step', step)
  form.set('file', photo, 'photo.jpg')
  try {
    const response = await fetch(`/api/units/${unit}/photos`, { method: 'POST', body: form })
    const body = (await response.json()) as { error?: string }
    return response.ok
      ? { done: 'Saved.' }
      : { error: body.error ?? 'The photo was refused. Nothing was saved.' }
  } catch {
    return { error: 'The server did not answer. Your note is still here; try again in a moment.' }
  }
}

/**
 * A note: text, a photograph, or both. In: where it belongs; how a note without a photograph is saved; what comes after. What was
 * typed and chosen stays where saving fails.
 */
export const NoteFields = ({
  place,
  label,
  rows,
  saveText,
  onSaved,
  error = '',
}: {
  place: Place
  label: string
  rows: number
  saveText: (text: string) => Promise<Answer>
  onSaved: () => void
  error?: string
}) => {
  const id = useId()
  const input = useRef<HTMLInputElement>(null)
  const [photo, setPhoto] = useState<SmallJpeg>()
  const [preview, setPreview] = useState('')
  const [wrong, setWrong] = useState('')
  useEffect(() => {
    if (!photo) return
    const url = URL.createObjectURL(photo.jpeg)
    setPreview(url)
    return () => URL.revokeObjectURL(url)
  }, [photo])
  const forget = () => {
    setPhoto(undefined)
    setPreview('')
    if (input.current) input.current.value = ''
  }
  const { form, submit, ready, problem } = useEntry(
    photo ? PhotoNoteEntry : NoteEntry,
    { text: '' },
    async ({ text }) => {
      const answer = photo ? await sendPhoto(place, text, photo.jpeg) : await saveText(text)
      if (answer.error) return answer
      form.reset({ text: '' })
      forget()
      onSaved()
      return answer
    },
  )
  const choose = async (file: File | undefined) => {
    setWrong('')
    if (!file) return forget()
    const small = await smallJpeg(file)
    if (small) return setPhoto(small)
    forget()
    setWrong(`“${file.name}” is not a picture that this browser can read. Nothing else was lost.`)
  }
  return (
    <form onSubmit={submit} className="grid gap-3" noValidate>
      <Field form={form} name="text" label={label}>
        {(props) => <textarea {...props} rows={rows} data-first />}
      </Field>
      <div className="grid gap-1">
        <label htmlFor={`${id}-photo`} className="text-sm text-soft">
          Photo
        </label>
        <input
          id={`${id}-photo`}
          ref={input}
          type="file"
          accept="image/*"
          className="field min-w-0"
          aria-describedby={`${id}-said`}
          onChange={(e) => void choose(e.target.files?.[0])}
        />
        <p
          id={`${id}-said`}
          role={wrong ? 'alert' : undefined}
          className={`text-sm ${wrong ? 'text-lamp' : 'text-faint'}`}
        >
          {wrong || 'Resized in this browser before it is sent, without its location data.'}
        </p>
        {photo && preview && (
          <p className="flex flex-wrap items-end gap-4">
            <Image
              unoptimized
              src={preview}
              width={photo.width}
              height={photo.height}
              alt="Preview"
              className="h-auto max-h-40 w-auto border border-line"
            />
            <button type="button" className="link" onClick={forget}>
              Remove the photo
            </button>
          </p>
        )}
      </div>
      <FormProblem text={error || problem} />
      <p>
        <button type="submit" className="button button-quiet min-h-9 text-sm" disabled={!ready}>
          Save the note
        </button>
      </p>
    </form>
  )
}

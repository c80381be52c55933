'use client'

import Link from 'next/link'
import { type FormEvent, useState } from 'react'
import type { SessionView } from '#server/views'
import { Dialog } from './dialog'
import type { Send } from './use-session'

const PARTS = {
  display: { title: 'Settings are made by', bench: 'the bench', hand: 'a person with the remote' },
  pattern: {
    title: 'Patches are shown by',
    bench: 'the bench’s pattern source',
    page: 'a browser on the display under test',
    hand: 'a person with a source',
  },
  meter: { title: 'The meter is read by', bench: 'the bench', hand: 'manual entry' },
} as const

/** Who does each device's part, and how the meter is corrected. */
export const EquipmentDialog = ({
  view,
  error,
  send,
  onClose,
}: {
  view: SessionView
  error: string
  send: Send
  onClose: () => void
}) => {
  const [equipment, setEquipment] = useState(view.equipment)
  const store = async (event: FormEvent) => {
    event.preventDefault()
    if (await send({ type: 'equip', equipment })) onClose()
  }
  const select = <K extends keyof typeof PARTS>(name: K) => {
    const { title, ...options } = PARTS[name]
    return (
      <label className="grid gap-1">
        <span className="text-sm text-soft">{title}</span>
        <select
          className="field"
          value={equipment[name]}
          onChange={(e) => setEquipment({ ...equipment, [name]: e.target.value })}
        >
          {Object.entries(options)
            .filter(([value]) => view.hasBench || value !== 'bench')
            .map(([value, text]) => (
              <option key={value} value={value}>
                {text}
              </option>
            ))}
        </select>
      </label>
    )
  }
  return (
    <Dialog
      title="Equipment"
      note="A person can stand in for any device; the loop stays the same."
      onClose={onClose}
    >
      <form onSubmit={store} className="grid gap-4">
        {select('display')}
        {select('pattern')}
        {equipment.pattern === 'page' && (
          <p className="text-sm text-soft">
            Open{' '}
            <Link className="link" href={`/sessions/${view.id}/patches`} target="_blank">
              the patch page
            </Link>{' '}
            on the display under test, full screen. A browser shows SDR with 8 bit and through the computer’s
            own colour management; it cannot show HDR, nor codes below black or above white.
          </p>
        )}
        {select('meter')}
        {equipment.meter === 'hand' ? (
          <label className="grid gap-1">
            <span className="text-sm text-soft">Which meter, with its serial</span>
            <input
              className="field"
              value={equipment.meterName}
              maxLength={120}
              onChange={(e) => setEquipment({ ...equipment, meterName: e.target.value })}
            />
          </label>
        ) : (
          <label className="grid gap-1">
            <span className="text-sm text-soft">Correction in the meter</span>
            <select
              className="field"
              value={equipment.meterSlot ?? ''}
              onChange={(e) => setEquipment({ ...equipment, meterSlot: e.target.value || null })}
            >
              <option value="">the one for this kind of panel</option>
              <option value="none">none</option>
              {view.slots.map((s) => (
                <option key={s.slot} value={s.slot}>
                  {s.name}
                </option>
              ))}
            </select>
          </label>
        )}
        <label className="grid gap-1">
          <span className="text-sm text-soft">Four-colour correction</span>
          <select
            className="field"
            value={equipment.correctionId ?? ''}
            onChange={(e) => setEquipment({ ...equipment, correctionId: Number(e.target.value) || null })}
          >
            <option value="">none</option>
            {view.corrections.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
        <p className="text-sm text-faint">
          <Link className="link" href={`/corrections/new?session=${view.id}`}>
            Make a four-colour correction
          </Link>{' '}
          against a reference instrument.
        </p>
        {error && (
          <p role="alert" className="text-lamp">
            {error}
          </p>
        )}
        <button type="submit" className="button">
          Save
        </button>
      </form>
    </Dialog>
  )
}

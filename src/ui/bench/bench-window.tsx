import type { SessionView } from '#server/view'
import type { OpenWindow } from './bench-state'
import { NoteDialog, PoweredDialog, SignalDialog } from './dialogs/by-hand-dialogs'
import { KeysDialog, ReadingDialog } from './dialogs/dialogs'
import { CorrectDialog, ModeDialog, SetDialog, TargetDialog } from './dialogs/entry-dialogs'
import { EquipmentDialog } from './dialogs/equipment-dialog'
import { SweepDialog } from './dialogs/sweep-dialog'
import { ReadingsTable } from './evidence/readings-table'
import type { KeyRow } from './key-table'
import type { Send } from './use-session'

/** The window that lies over the bench. */
export const BenchWindow = ({
  open,
  view,
  rows,
  error,
  send,
  onClose,
}: {
  open: OpenWindow
  view: SessionView
  rows: readonly KeyRow[]
  error: string
  send: Send
  onClose: () => void
}) => {
  const { next } = view
  const common = { view, error, send, onClose }
  switch (open.kind) {
    case 'keys':
      return <KeysDialog rows={rows} onClose={onClose} />
    case 'set':
      return (
        <SetDialog {...common} suggested={next.kind === 'adjust' ? next.changes[0]?.control : undefined} />
      )
    case 'target':
      return <TargetDialog {...common} />
    case 'equipment':
      return <EquipmentDialog {...common} />
    case 'powered':
      return <PoweredDialog {...common} />
    case 'note':
      return <NoteDialog {...common} />
    case 'signal':
      return <SignalDialog {...common} />
    case 'sweep':
      return <SweepDialog {...common} />
    case 'mode':
      return <ModeDialog {...common} />
    case 'correct':
      return <CorrectDialog {...common} changes={'changes' in next ? next.changes : []} />
    case 'readings':
      return <ReadingsTable session={view.id} count={view.readings} onClose={onClose} />
    case 'reading':
      return <ReadingDialog session={view.id} reading={open.id} onClose={onClose} />
  }
}

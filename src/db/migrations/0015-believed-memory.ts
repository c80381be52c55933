import type { Sequelize } from 'sequelize'
import { type BelievedMemory, believeState, ControlSheet, NOTHING_KNOWN, type State } from '#core/display'
import { SDR_SIGNAL, type SignalFormat, signalKind } from '#core/signal'
import { type MigrationStep, selectAll, updateRow } from './step'

const told = <T>(column: unknown): T =>
  typeof column === 'string' ? (JSON.parse(column) as T) : (column as T)

interface Row {
  unit: number
  sheet: unknown
  state: unknown
  format: unknown
  devices: unknown
}

/** What each unit’s sessions left in its places, the oldest first: what a bench set was read back; what a person set was carried along, and is to be looked at. */
const rememberUnits = async (sequelize: Sequelize, done: (what: string) => void): Promise<void> => {
  const units = await selectAll<{ id: number }>(
    sequelize,
    'SELECT id FROM units WHERE memory IS NULL AND state_id IS NOT NULL ORDER BY id',
  )
  for (const { id } of units) {
    const sessions = await selectAll<Row>(
      sequelize,
      `SELECT s.unit_id AS unit, c.document AS sheet, t.\`values\` AS state, s.signal_format AS format, s.devices
         FROM sessions s JOIN control_sheets c ON c.id = s.sheet_id JOIN states t ON t.id = s.state_id
         JOIN units u ON u.id = s.unit_id
        WHERE s.unit_id = ${id} ORDER BY s.id = u.stated_by, s.updated_at, s.id`,
    )
    let memory: BelievedMemory = NOTHING_KNOWN
    for (const row of sessions) {
      const sheet = ControlSheet.safeParse(told(row.sheet))
      // One that this version cannot read tells nothing.
      if (!sheet.success) continue
      const kind = signalKind(told<SignalFormat | null>(row.format) ?? SDR_SIGNAL)
      const byHand = told<{ display?: string }>(row.devices)?.display === 'hand'
      memory = believeState(sheet.data, memory, kind, told<State>(row.state), byHand ? 'assumed' : 'read')
    }
    await updateRow(sequelize, 'units', 'memory', id, JSON.stringify(memory))
    done(`unit ${id}`)
  }
}

/** What a unit is believed to hold by place, and how each value that a session shows is known. */
export const steps: readonly MigrationStep[] = [
  'ALTER TABLE units ADD COLUMN IF NOT EXISTS memory JSON NULL',
  'ALTER TABLE sessions ADD COLUMN IF NOT EXISTS known JSON NULL',
  rememberUnits,
]

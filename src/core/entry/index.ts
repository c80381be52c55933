export { CaseEntry } from './case'
export { CorrectionEntry } from './correction'
export {
  LatencyEntry,
  RowEntry,
  RowKept,
  TraceDocument,
  TraceEntry,
  UNMEASURED,
  UnmeasuredKind,
} from './entered'
export {
  BY_HAND,
  EQUIPMENT_QUESTIONS,
  Equipment,
  EquipmentEntry,
  ON_BENCH,
  ScatterEntry,
  UsualEquipmentEntry,
  whyNotEquipment,
  withoutBench,
} from './equipment'
export { Intake, IntakeByHand, IntakeByHandEntry, IntakeEntry, PANEL_LABEL, panelLabel } from './intake'
export { LARGEST_PHOTO, NoteEntry, PhotoNoteEntry, VariantEntry } from './note'
export { numberTyped, typedNumber } from './number'
export { PolicyEntry, policyTyped } from './policy'
export { ReadingsEntry } from './readings'
export { ScreenEntry } from './screen'
export { settingEntry } from './setting'
export { InputsEntry, inputsTyped, SocketEntry, SourceEntry } from './signal-path'

export { day, duration, luminance, STATION_AT, uncertainty } from './format'
export { BeginForm, type FormState, GuideEditor, IntakeForm, keeping, PutOnStand } from './forms'
export { DeskShell, Trail } from './shell'
export { type Theme, ThemeRoot, ThemeSwitch, useTheme } from './theme'

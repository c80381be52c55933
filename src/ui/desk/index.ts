export { day, duration, luminance, STATION_AT } from './format'
export { BeginForm, GuideEditor, IntakeForm, PutOnStand } from './forms'
export { DeskShell, Trail } from './shell'
export { type Theme, ThemeRoot, ThemeSwitch, useTheme } from './theme'

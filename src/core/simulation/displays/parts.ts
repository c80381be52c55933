import type { Channel, Control, Hue, Role } from '#core/display'

export const CHANNELS: readonly Channel[] = ['red', 'green', 'blue']
export const SIX: readonly Hue[] = ['red', 'yellow', 'green', 'cyan', 'blue', 'magenta']
/** Modes and most of what belongs to them: stored for each mode, SDR and HDR apart. */
export const PER_MODE: Control['memory'] = ['signal', 'mode']

type Rest = Partial<
  Pick<Control, 'channel' | 'colour' | 'level' | 'needs' | 'caution'> & { inMode: Record<string, never> }
>
const base = (
  key: string,
  path: readonly string[],
  label: string,
  role: Role,
  memory: Control['memory'],
) => ({
  key,
  path: [...path],
  label,
  role,
  memory,
})

/** A number of the menu. `range`: lowest, highest, factory's value, and where it does nothing. */
export const number = (
  [key, path, label, role, memory]: Parameters<typeof base>,
  range: { min: number; max: number; comes: number; neutral?: number; step?: number },
  rest: Omit<Rest, 'inMode'> & { inMode?: Record<string, number> } = {},
): Control => ({
  ...base(key, path, label, role, memory),
  ...rest,
  kind: 'number',
  range: { min: range.min, max: range.max, step: range.step ?? 1 },
  default: range.comes,
  ...(range.neutral === undefined ? {} : { neutral: range.neutral }),
})

/** A choice of the menu. `choices`: value and label. */
export const choice = (
  [key, path, label, role, memory]: Parameters<typeof base>,
  choices: Readonly<Record<string, string>>,
  comes: string,
  rest: Omit<Rest, 'inMode'> & { neutral?: string; inMode?: Record<string, string> } = {},
): Control => ({
  ...base(key, path, label, role, memory),
  ...rest,
  kind: 'choice',
  choices: Object.entries(choices).map(([value, text]) => ({ value, label: text })),
  default: comes,
})

export const ON_OFF = { off: 'Off', on: 'On' } as const

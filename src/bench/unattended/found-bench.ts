import type { BenchPort } from '#bench/executor'

/** Looks what stands on a bench. Out: its devices and the display's state, or what is missing. */
export const lookAtBench = async (bench: BenchPort) => {
  const described = await bench.describe()
  if (!described.ok) return { missing: described.failure.message }
  const { display, meter, pattern } = described.value
  if (!display) return { missing: 'The bench has no display.' }
  if (!meter) return { missing: 'The bench has no meter.' }
  if (!pattern) return { missing: 'The bench has no pattern source.' }
  const sheet = await bench.sheet()
  if (!sheet.ok) return { missing: sheet.failure.message }
  const state = await bench.state()
  if (!state.ok) return { missing: state.failure.message }
  return { description: described.value, display, meter, pattern, sheet: sheet.value, state: state.value }
}

export type FoundBench = Exclude<Awaited<ReturnType<typeof lookAtBench>>, { readonly missing: string }>

'use server'

import { guarded } from '#app/guarded'
import { idIn, textIn } from '#app/input'
import type { DraftRow } from '#core/draft'
import { context } from '#server/base'
import { putDraftInUse, rowsOfBench, rowsOfModel, saveDraft } from '#server/model'
import type { Answer } from '#ui/form'

const countIn = (value: unknown): number =>
  Number.isSafeInteger(value) && Number(value) >= 0 ? Number(value) : 0

export const saveDraftAction = guarded(
  async (modelId: number, rows: readonly DraftRow[], revision: number) => {
    const saved = await saveDraft(context(), idIn(modelId), rows, countIn(revision))
    return saved.ok
      ? { ok: true as const, revision: saved.value }
      : { ok: false as const, error: saved.error }
  },
)

export const useDraftAction = guarded(async (modelId: number, revision: number): Promise<Answer> => {
  const used = await putDraftInUse(context(), idIn(modelId), countIn(revision))
  return used.ok ? {} : { error: used.error }
})

export const copySheetAction = guarded(async (slug: string) => {
  const rows = await rowsOfModel(context(), textIn(slug))
  return rows.ok ? { ok: true as const, rows: rows.value } : { ok: false as const, error: rows.error }
})

export const sheetOfBenchAction = guarded(async () => {
  const rows = await rowsOfBench(context())
  return rows.ok ? { ok: true as const, rows: rows.value } : { ok: false as const, error: rows.error }
})

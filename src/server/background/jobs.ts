import type { Context } from '../base/context'
import { exportUnit, importUnit } from '../files/archive'
import { importGuide, writeGuideFile } from '../files/guide-file'
import { drawGuide } from '../guide/paper'
import { drawPicture } from './pictures'
import { drawPqPicture, type PqPicture } from './pq-picture'

/** Work on files and pictures. Files are named by their place on the disk, so that their bytes need not travel between threads. */
export type Job =
  | {
      readonly kind: 'picture'
      readonly pattern: string
      readonly width: number
      readonly height: number
      readonly file: string
    }
  | ({ readonly kind: 'pq-picture' } & PqPicture)
  | { readonly kind: 'export'; readonly unit: number; readonly file: string }
  | { readonly kind: 'import'; readonly file: string }
  | { readonly kind: 'card' | 'pdf' | 'json' | 'zip'; readonly revisionId: number; readonly file: string }
  | { readonly kind: 'import-guide'; readonly file: string }

export const runJob = async (ctx: Context, job: Job) => {
  switch (job.kind) {
    case 'picture':
      return drawPicture(job)
    case 'pq-picture':
      return drawPqPicture(job)
    case 'export':
      return exportUnit(ctx, job.unit, job.file)
    case 'import':
      return importUnit(ctx, job.file)
    case 'card':
    case 'pdf':
      return drawGuide(ctx, { kind: job.kind, revisionId: job.revisionId, file: job.file })
    case 'json':
    case 'zip':
      return writeGuideFile(ctx, { kind: job.kind, revisionId: job.revisionId, file: job.file })
    case 'import-guide':
      return importGuide(ctx, job.file)
  }
}

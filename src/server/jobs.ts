import { exportUnit, importUnit } from './archive'
import type { Context } from './context'
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
  }
}

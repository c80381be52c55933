import { join } from 'node:path'
import { build } from 'esbuild'
import { followWorkerFile } from '#server/background'
import { buildReadersStyle } from './readers-style'

/** Wexmar's own programs, by the name of their process, and what is loaded beside them. */
export const PROGRAMS = {
  web: 'src/ops/web.ts',
  pilot: 'src/ops/pilot.ts',
  runner: 'src/bench/runner/main.ts',
  bench: 'src/bench/simulated/main.ts',
  worker: 'src/server/background/worker.ts',
  pulse: 'src/ops/pulse.ts',
} as const
export type Program = keyof typeof PROGRAMS

/** Where the programs lie in the build folder, ready to run without being translated first. */
const programFolder = (root: string, dist: string): string => join(root, dist, 'processes')
export const programFile = (root: string, dist: string, program: Program): string =>
  join(programFolder(root, dist), `${program}.mjs`)

/** Translates the programs once, at build time: each start is then quicker and each process lighter. Errors: throws what is wrong. */
export const bundlePrograms = async (root: string, dist: string): Promise<void> => {
  await build({
    absWorkingDir: root,
    entryPoints: { ...PROGRAMS },
    outdir: programFolder(root, dist),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    chunkNames: 'part-[hash]',
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    sourcemap: 'linked',
    logLevel: 'silent',
  })
  await build({
    absWorkingDir: root,
    entryPoints: ['src/ui/follow/worker.ts'],
    outfile: followWorkerFile(root, dist),
    bundle: true,
    minify: true,
    format: 'iife',
    platform: 'browser',
    target: 'es2022',
    define: { 'process.env.NODE_ENV': '"production"' },
    logLevel: 'silent',
  })
  await buildReadersStyle(root, dist)
}

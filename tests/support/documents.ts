import { readFileSync } from 'node:fs'

/** A page of `docs`, whole, for tests that hold the code to it. In: its file name. */
export const documentOf = (name: string): string => readFileSync(`docs/${name}`, 'utf8')

import { statfs } from 'node:fs/promises'

/** From here on it is said that a disk is filling up, bytes. */
const LITTLE = 100 * 1024 * 1024
const FRESH_MS = 5_000

let known: { at: number; sentence: string } | undefined

/**
 * What is to be said of the disk that the installation lies on: a sentence where there is little room left on it, empty otherwise. Asked
 * of the system at most every five seconds.
 */
export const diskWarning = async (): Promise<string> => {
  const folder = process.env.WEXMAR_DATA
  if (!folder) return ''
  if (known && performance.now() - known.at < FRESH_MS) return known.sentence
  let sentence = ''
  try {
    const { bavail, bsize } = await statfs(folder)
    const free = bavail * bsize
    if (free < LITTLE)
      sentence = `The disk of ${folder} has ${Math.floor(free / 1024 / 1024)} MB left. Everything read so far is kept; make room, or no further reading can be stored.`
  } catch (error) {
    sentence = `The data folder ${folder} cannot be looked at (${(error as Error).message}).`
  }
  known = { at: performance.now(), sentence }
  return sentence
}

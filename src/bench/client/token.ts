import { readFileSync } from 'node:fs'
import { homedir } from 'node:os'
import { join, resolve } from 'node:path'

/** Where this installation keeps the token of the bench that it starts itself. */
const tokenFile = (): string =>
  join(
    resolve(
      process.env.WEXMAR_DATA || join(process.env.XDG_DATA_HOME || join(homedir(), '.local/share'), 'wexmar'),
    ),
    'secrets',
    'bench-token',
  )

/**
 * The token that a bench asks for, or undefined. It goes to the bench of this installation only: the one that `WEXMAR_BENCH_URL` names,
 * with `WEXMAR_BENCH_TOKEN`, or the simulated one that Wexmar starts, whose token lies with its data.
 */
export const tokenFor = (base: string): string | undefined => {
  if (!base) return undefined
  const { origin } = new URL(base.replace('//localhost:', '//127.0.0.1:'))
  const { WEXMAR_BENCH_URL: own, WEXMAR_BENCH_TOKEN: token } = process.env
  if (token)
    return own !== undefined && URL.canParse(own) && new URL(own).origin === origin ? token : undefined
  if (origin !== `http://127.0.0.1:${process.env.WEXMAR_BENCH_PORT ?? 4312}`) return undefined
  try {
    return readFileSync(tokenFile(), 'utf8').trim() || undefined
  } catch {
    // No bench was started by Wexmar here.
    return undefined
  }
}

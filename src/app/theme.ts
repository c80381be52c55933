import { cookies } from 'next/headers'
import type { Theme } from '#ui/static'

/** The theme that the visitor chose, or the one that fits the place: dark at the bench, paper at the desk. */
export const themeFor = async (place: 'bench' | 'desk'): Promise<Theme> => {
  const chosen = (await cookies()).get(`theme-${place}`)?.value
  return chosen === 'dark' || chosen === 'paper' ? chosen : place === 'bench' ? 'dark' : 'paper'
}

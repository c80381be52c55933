/** This page and those of the other cases, and the files that were fetched before a worker stood in between. */
const filesSoFar = (): string[] => [
  location.href,
  ...[...document.querySelectorAll<HTMLAnchorElement>('nav a[href*="/follow"]')].map((a) => a.href),
  ...performance
    .getEntriesByType('resource')
    .map((e) => e.name)
    .filter(
      (name) =>
        new URL(name).origin === location.origin && new URL(name).pathname.startsWith('/_next/static/'),
    ),
]

/**
 * Has this page kept by the follow-along's worker. Out: whether it is there without a network from now on; false where the browser keeps nothing, as on
 * addresses without encryption.
 */
export const keepOffline = async (): Promise<boolean> => {
  if (!('serviceWorker' in navigator)) return false
  try {
    await navigator.serviceWorker.register('/guides/follow-worker.js', { scope: '/guides/' })
    const { active } = await navigator.serviceWorker.ready
    if (!active) return false
    return await new Promise<boolean>((resolve) => {
      const { port1, port2 } = new MessageChannel()
      port1.onmessage = () => resolve(true)
      active.postMessage({ type: 'CACHE_URLS', payload: { urlsToCache: filesSoFar() } }, [port2])
    })
  } catch {
    // Private windows and some browsers refuse workers: the page works while the network does.
    return false
  }
}

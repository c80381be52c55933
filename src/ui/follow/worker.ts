import { CacheFirst, ExpirationPlugin, NetworkFirst, Serwist } from 'serwist'

/** Pages of follow-alongs and what they are drawn with: at most so many, the oldest go first. */
const MOST_PAGES = 40
const MOST_FILES = 200
/** Seconds that the network has before the kept page is shown. */
const PATIENCE = 3

/**
 * Keeps the pages of follow-alongs, so that they work where a television has no network around it. Nothing else of the site is kept, and nothing of
 * the reader.
 */
const worker = new Serwist({
  skipWaiting: true,
  clientsClaim: true,
  runtimeCaching: [
    {
      matcher: ({ url, sameOrigin }) => sameOrigin && /^\/guides\/[a-z0-9-]+\/follow$/.test(url.pathname),
      handler: new NetworkFirst({
        cacheName: 'follow-pages',
        networkTimeoutSeconds: PATIENCE,
        plugins: [
          new ExpirationPlugin({ maxEntries: MOST_PAGES }),
          {
            // A server that fails is as good as none: the kept page is shown, and says that it may be old.
            fetchDidSucceed: async ({ response }) => {
              if (response.status >= 500) throw new Error(`The server answers ${response.status}`)
              return response
            },
          },
        ],
      }),
    },
    {
      // Built files are named by what is in them.
      matcher: ({ url, sameOrigin }) => sameOrigin && url.pathname.startsWith('/_next/static/'),
      handler: new CacheFirst({
        cacheName: 'follow-files',
        plugins: [new ExpirationPlugin({ maxEntries: MOST_FILES })],
      }),
    },
  ],
})
worker.addEventListeners()

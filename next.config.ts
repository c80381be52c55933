import type { NextConfig } from 'next'

const config: NextConfig = {
  // The tests build beside a running demo, so each has a folder of its own.
  distDir: process.env.WEXMAR_DIST ?? '.next',
  serverExternalPackages: ['sequelize', 'mariadb', 'piscina'],
  // Control sheets come in by a form; what stands in front of the application holds bodies to the same size.
  experimental: { serverActions: { bodySizeLimit: '3mb' } },
  // `npm run types` checks the whole project, tests included.
  typescript: { ignoreBuildErrors: true },
  poweredByHeader: false,
  reactStrictMode: true,
  devIndicators: false,
  rewrites: async () => [
    { source: '/guides/:slug([a-z0-9-]+).json', destination: '/guides/:slug/json' },
    { source: '/guides/:slug([a-z0-9-]+).md', destination: '/guides/:slug/md' },
  ],
}

export default config

import type { NextConfig } from 'next'

const config: NextConfig = {
  // The tests build beside a running demo, so each has a folder of its own.
  distDir: process.env.WEXMAR_DIST ?? '.next',
  serverExternalPackages: [
    'sequelize',
    'mariadb',
    'piscina',
    '@resvg/resvg-js',
    '@react-pdf/renderer',
    'satori',
  ],
  // Control sheets come in by a form; what stands in front of the application holds bodies to the same size.
  experimental: { serverActions: { bodySizeLimit: '3mb' } },
  // `npm run types` checks the whole project, tests included.
  typescript: { ignoreBuildErrors: true },
  poweredByHeader: false,
  // A page has its title in its first answer, for every client: none stands without one while the rest streams in.
  htmlLimitedBots: /.*/,
  reactStrictMode: true,
  devIndicators: false,
  rewrites: async () => [
    ...['json', 'md', 'csv', 'html', 'pdf', 'vtt', 'zip'].map((ending) => ({
      source: `/guides/:slug([a-z0-9-]+).${ending}`,
      destination: `/guides/:slug/${ending}`,
    })),
  ],
}

export default config

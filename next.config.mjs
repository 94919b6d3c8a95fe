/** @type {import('next').NextConfig} */
const config = {
  poweredByHeader: false,
  // Native and Node-only packages stay outside the bundle.
  serverExternalPackages: [
    '@resvg/resvg-js',
    'better-sqlite3',
    'knex',
    'pdfkit',
    'pino',
    'bwip-js',
    'dejavu-fonts-ttf',
    'ssh2-sftp-client',
    'sharp',
    'smtp-server',
    'mailparser',
    'city-timezones',
  ],
  devIndicators: false,
  experimental: {
    // After a restart the first page answers at once; each further route is loaded when it is first asked for.
    preloadEntriesOnStart: false,
    // Nobody reads the maps (160 MB), and what is kept for a next build (290 MB) is at the cost of every first one.
    turbopackSourceMaps: false,
    turbopackFileSystemCacheForBuild: false,
  },
  // `npm test` checks the types of everything, once.
  typescript: { ignoreBuildErrors: true },
}

export default config

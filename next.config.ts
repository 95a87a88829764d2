import type { NextConfig } from 'next'

/** Cross-origin isolation gives workers shared memory, so one acceleration structure serves all of them. */
const isolationHeaders = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
]

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  allowedDevOrigins: ['127.0.0.1'],
  turbopack: { root: import.meta.dirname },
  headers: async () => [{ source: '/:path*', headers: isolationHeaders }],
}

export default config

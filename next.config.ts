import type { NextConfig } from 'next'
import { filePolicy, PLAIN_HEADERS } from './src/security-policy'

/** Cross-origin isolation gives workers shared memory, so one acceleration structure serves all of them. */
const isolationHeaders = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
]
const files = [{ key: 'Content-Security-Policy', value: filePolicy() }]

const config: NextConfig = {
  reactStrictMode: true,
  // Types are checked once, over all there is, by `npm test`.
  typescript: { ignoreBuildErrors: true },
  poweredByHeader: false,
  allowedDevOrigins: ['127.0.0.1'],
  turbopack: { root: import.meta.dirname },
  headers: async () => [
    { source: '/:path*', headers: [...isolationHeaders, ...PLAIN_HEADERS] },
    // Pages get theirs, with a nonce, in src/proxy.ts.
    { source: '/_next/static/:path*', headers: files },
    { source: '/demo/:path*', headers: files },
  ],
}

export default config

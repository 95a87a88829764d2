/** Content security policies (W3C CSP Level 3): nothing runs or is fetched that this server did not send. */

const write = (directives: Readonly<Record<string, readonly string[]>>): string =>
  Object.entries(directives)
    .map(([name, sources]) => `${name} ${sources.join(' ')}`)
    .join('; ')

const SELF = "'self'"
const NONE = "'none'"

const COMMON = {
  'default-src': [SELF],
  'connect-src': [SELF, 'blob:'],
  'img-src': [SELF, 'blob:', 'data:'],
  'font-src': [SELF],
  'object-src': [NONE],
  'base-uri': [SELF],
  'form-action': [SELF],
  'frame-src': [NONE],
  'frame-ancestors': [NONE],
} as const

/**
 * The policy of a page.
 * @param nonce that its own scripts bear.
 * @param isDevelopment lets the development server evaluate code and talk to the page.
 */
export const pagePolicy = (nonce: string, isDevelopment: boolean): string =>
  write({
    ...COMMON,
    'script-src': [
      SELF,
      `'nonce-${nonce}'`,
      "'wasm-unsafe-eval'",
      ...(isDevelopment ? ["'unsafe-eval'"] : []),
    ],
    // The interface library writes its styles into the page.
    'style-src': [SELF, "'unsafe-inline'"],
    'worker-src': [SELF],
    ...(isDevelopment && { 'connect-src': [SELF, 'blob:', 'ws:'] }),
  })

/**
 * The policy of files, workers' scripts among them. A worker may begin another from what it holds itself: the package that writes
 * films takes colours and what is clear apart in one.
 */
export const filePolicy = (): string =>
  write({ ...COMMON, 'script-src': [SELF, "'wasm-unsafe-eval'"], 'worker-src': [SELF, 'blob:'] })

/** Headers of everything that is served. */
export const PLAIN_HEADERS = [
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
  {
    key: 'Permissions-Policy',
    value: 'camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=()',
  },
] as const

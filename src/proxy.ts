import { NextResponse, type NextRequest } from 'next/server'
import { pagePolicy } from './security-policy'

/** Gives every page a policy of its own: only scripts that were sent with it may run. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID())
  const policy = pagePolicy(nonce, process.env.NODE_ENV === 'development')
  const headers = new Headers(request.headers)
  // The framework reads the nonce from here and puts it on its scripts.
  headers.set('Content-Security-Policy', policy)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('Content-Security-Policy', policy)
  return response
}

export const config = { matcher: [{ source: '/((?!_next/static|_next/image|demo/|icon.svg).*)' }] }

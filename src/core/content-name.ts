/** What every place that this runs in brings along: Web Crypto (W3C) and base 64 (WHATWG HTML). */
const runtime = globalThis as unknown as {
  readonly crypto: {
    readonly subtle: { digest(name: 'SHA-256', bytes: Uint8Array<ArrayBuffer>): Promise<ArrayBuffer> }
  }
  readonly btoa: (text: string) => string
}

/** SHA-256 of bytes, as text: what is the same has the same name. */
export async function contentName(bytes: Uint8Array<ArrayBuffer>): Promise<string> {
  const hash = new Uint8Array(await runtime.crypto.subtle.digest('SHA-256', bytes))
  return runtime.btoa(String.fromCharCode(...hash))
}

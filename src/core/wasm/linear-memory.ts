/** The little of WebAssembly that is used here: the core is checked without the DOM's types. */
export interface LinearMemory {
  readonly buffer: ArrayBufferLike
  grow(pages: number): number
}
interface WebAssemblyHost {
  readonly Memory: new (options: { initial: number; maximum?: number; shared?: boolean }) => LinearMemory
  readonly Module: new (bytes: Uint8Array) => object
  readonly Instance: new (
    module: object,
    imports: { env: { memory: LinearMemory } },
  ) => { readonly exports: unknown }
}
const host = (globalThis as unknown as { readonly WebAssembly: WebAssemblyHost }).WebAssembly

export const PAGE_BYTES = 65536
const canShare = typeof SharedArrayBuffer !== 'undefined'

export const pagesFor = (bytes: number): number => Math.ceil(bytes / PAGE_BYTES)

/**
 * Memory for a program, `bytes` large: shared between workers where the host offers it.
 * @param mostPages what a shared memory may grow to: the same number as the program was compiled with.
 */
export const linearMemory = (bytes: number, mostPages: number, shared = canShare): LinearMemory =>
  shared
    ? new host.Memory({ initial: pagesFor(bytes), maximum: mostPages, shared: true })
    : new host.Memory({ initial: pagesFor(bytes) })

export const isShared = (memory: LinearMemory): boolean =>
  canShare && memory.buffer instanceof SharedArrayBuffer

const BASE64 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'

/** The core is checked without the DOM, so there is no atob. */
export function fromBase64(text: string): Uint8Array {
  const clean = text.replace(/=+$/, '')
  const out = new Uint8Array((clean.length * 3) >> 2)
  let bits = 0
  let held = 0
  let at = 0
  for (const letter of clean) {
    held = (held << 6) | BASE64.indexOf(letter)
    bits += 6
    if (bits < 8) continue
    bits -= 8
    out[at++] = held >> bits
    held &= (1 << bits) - 1
  }
  return out
}

/** One of the programs of kernel/, compiled at its first use, once for each kind of memory and thread. */
export class KernelProgram<Exports> {
  private readonly modules: { plain?: object; shared?: object } = {}

  /** @param plain over plain memory, base64; @param shared over shared memory. */
  constructor(
    private readonly plain: string,
    private readonly shared: string,
  ) {}

  /** The program over a memory. */
  over(memory: LinearMemory): Exports {
    const kind = isShared(memory) ? 'shared' : 'plain'
    const compiled = (this.modules[kind] ??= new host.Module(fromBase64(this[kind])))
    return new host.Instance(compiled, { env: { memory } }).exports as Exports
  }
}

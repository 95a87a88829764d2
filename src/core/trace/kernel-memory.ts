import { MOST_PAGES, PLAIN_KERNEL, SHARED_KERNEL } from './kernel-binary'

/** The little of WebAssembly that is used here: the core is checked without the DOM's types. */
export interface KernelMemory {
  readonly buffer: ArrayBufferLike
  grow(pages: number): number
}
/** What kernel/ exports: every address and count is a 32-bit integer; kernel/*.ts say what each is. */
export interface KernelExports {
  build(vertices: number, tags: number, total: number, scratch: number): number
  closestHits(
    rays: number,
    hits: number,
    count: number,
    mask: number,
    parts: number,
    stack: number,
    octaves: number,
  ): void
  anyHits(rays: number, blocked: number, count: number, mask: number, parts: number, stack: number): void
  raysAsked(): number
  loadPoints(points: number, count: number, least: number): void
  occlusionOf(
    points: number,
    count: number,
    rays: number,
    most: number,
    reach: number,
    sine: number,
    mask: number,
    parts: number,
    desk: number,
    out: number,
  ): void
  cavityOf(
    points: number,
    count: number,
    rays: number,
    most: number,
    radius: number,
    mask: number,
    parts: number,
    desk: number,
    out: number,
  ): void
  thicknessOf(
    points: number,
    count: number,
    rays: number,
    most: number,
    salt: number,
    reach: number,
    sine: number,
    least: number,
    mask: number,
    parts: number,
    desk: number,
    out: number,
  ): void
  lightOf(
    light: number,
    points: number,
    count: number,
    rays: number,
    most: number,
    widths: number,
    mask: number,
    parts: number,
    desk: number,
    out: number,
    whole: number,
  ): void
  skyOf(light: number, points: number, count: number, out: number): void
  scatter(
    points: number,
    count: number,
    rays: number,
    most: number,
    salt: number,
    shares: number,
    spreads: number,
    least: number,
    mask: number,
    parts: number,
    desk: number,
    made: number,
    room: number,
  ): number
  scattered(): number
  sumNormals(
    positions: number,
    starts: number,
    faces: number,
    corners: number,
    joined: number,
    normals: number,
    sums: number,
    desk: number,
    room: number,
  ): void
  anglesAt(
    positions: number,
    starts: number,
    faces: number,
    corners: number,
    joined: number,
    normals: number,
    bent: number,
    angles: number,
    desk: number,
    room: number,
  ): void
  meanNormals(
    starts: number,
    faces: number,
    joined: number,
    normals: number,
    sums: number,
    vertices: number,
    halfCosine: number,
    bent: number,
    means: number,
  ): number
  joinPlaces(
    places: number,
    count: number,
    numbers: number,
    desk: number,
    slots: number,
    expected: number,
  ): number
}
interface WebAssemblyHost {
  readonly Memory: new (options: { initial: number; maximum?: number; shared?: boolean }) => KernelMemory
  readonly Module: new (bytes: Uint8Array) => object
  readonly Instance: new (
    module: object,
    imports: { env: { memory: KernelMemory } },
  ) => { readonly exports: unknown }
}
const host = (globalThis as unknown as { readonly WebAssembly: WebAssemblyHost }).WebAssembly

export const PAGE_BYTES = 65536
/** Where a tree begins in every memory; see kernel/layout.ts. */
export const TREE_START = 1024
const canShare = typeof SharedArrayBuffer !== 'undefined'

export const pagesFor = (bytes: number): number => Math.ceil(bytes / PAGE_BYTES)

/** Memory for the kernel, `bytes` large: shared between workers where the host offers it. */
export const kernelMemory = (bytes: number, shared = canShare): KernelMemory =>
  shared
    ? new host.Memory({ initial: pagesFor(bytes), maximum: MOST_PAGES, shared: true })
    : new host.Memory({ initial: pagesFor(bytes) })

export const isShared = (memory: KernelMemory): boolean =>
  canShare && memory.buffer instanceof SharedArrayBuffer

const BASE64 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'

/** The core is checked without the DOM, so there is no atob. */
function fromBase64(text: string): Uint8Array {
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

const modules: { plain?: object; shared?: object } = {}

/** The kernel over a memory. Compiled once per thread. */
export function kernelOver(memory: KernelMemory): KernelExports {
  const kind = isShared(memory) ? 'shared' : 'plain'
  const compiled = (modules[kind] ??= new host.Module(
    fromBase64(kind === 'shared' ? SHARED_KERNEL : PLAIN_KERNEL),
  ))
  return new host.Instance(compiled, { env: { memory } }).exports as KernelExports
}

import { KernelProgram, linearMemory, type LinearMemory } from '../wasm/linear-memory'
import { MOST_PAGES, PLAIN_KERNEL, SHARED_KERNEL } from './kernel-binary'

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
  see(
    camera: number,
    places: number,
    count: number,
    pattern: number,
    from: number,
    to: number,
    samples: number,
    mask: number,
    parts: number,
    desk: number,
  ): void
  busyOf(
    samples: number,
    width: number,
    height: number,
    surfaces: number,
    looks: number,
    busy: number,
    sameNormal: number,
    samePlane: number,
  ): void
  takePoints(
    camera: number,
    slots: number,
    weights: number,
    starts: number,
    pixels: number,
    x: number,
    y: number,
    width: number,
    origin: number,
    first: number,
    shown: number,
    pattern: number,
    seed: number,
    least: number,
    block: number,
    room: number,
    took: number,
  ): number
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
  backsOf(
    points: number,
    count: number,
    rays: number,
    reach: number,
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
    ways: number,
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
/** Where a tree begins in every memory; see kernel/layout.ts. */
export const TREE_START = 1024

/** Memory for the kernel, `bytes` large: shared between workers where the host offers it. */
export const kernelMemory = (bytes: number, shared?: boolean): LinearMemory =>
  linearMemory(bytes, MOST_PAGES, shared)

const program = new KernelProgram<KernelExports>(PLAIN_KERNEL, SHARED_KERNEL)

/** The kernel over a memory. */
export const kernelOver = (memory: LinearMemory): KernelExports => program.over(memory)

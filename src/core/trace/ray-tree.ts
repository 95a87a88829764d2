import { InvalidValueError } from '../errors'
import type { Bounds } from '../geometry/bounds'
import { isShared, PAGE_BYTES, type LinearMemory } from '../wasm/linear-memory'
import { kernelMemory, kernelOver, TREE_START } from './kernel-memory'

/** Where the head of a tree is and what it says; see kernel/layout.ts. */
const HEAD = 64 >> 2
const HEAD_BLOCKS = 1
const HEAD_TAGS = 2
const HEAD_CUTS = 3
const HEAD_IDS = 4
const HEAD_END = 5
const HEAD_NODES = 6
const HEAD_BLOCK_COUNT = 7
const HEAD_NORMALS = 8
const HEAD_TRIANGLES = 9

/** Free memory a build needs beside the records: bins, children and what is pending. */
const BUILD_SCRATCH = 16384

/** The number of a slot without a triangle. */
export const EMPTY_SLOT = 0xffffffff

/** A picture that says where a triangle is cut away. */
export interface CutoutPicture {
  readonly width: number
  readonly height: number
  /** Uint8Array, width · height: 0 is away, 255 is there. */
  readonly alpha: Uint8Array
  /** There from this share on, 0…1; null: there by chance, so that the mean over many rays is the share. */
  readonly threshold: number | null
}

/** Cut-outs of some triangles. */
export interface Cutouts {
  readonly pictures: readonly CutoutPicture[]
  /** Int32Array, T: picture of each triangle, −1 for none. */
  readonly ofTriangle: Int32Array
  /** Float32Array, 6·T: u, v of the three corners; v runs down, as rows do. */
  readonly uvs: Float32Array
}

/**
 * Triangles in the kernel's memory with their hierarchy. A hit names a *slot*: a place in that memory, from which its
 * corners are read; `ids` gives the triangle as it was numbered when the tree was built.
 */
export class RayTree {
  /** Over the whole memory as of now: corners are read from it, see {@link cornerBase}. */
  floats!: Float32Array
  /** Per slot: the triangle's number; 0xffffffff where the slot is empty. */
  ids!: Uint32Array
  /** Per slot: mask << 24 | part. */
  tags!: Uint32Array
  /** Per triangle, by its number: unit shading normals of the three corners, 9·T; empty where it was built without. */
  normals!: Float32Array
  readonly nodeCount: number
  readonly slotCount: number
  /** Bytes from the start of memory to the end of the tree. */
  readonly end: number
  /** Address of the first block. */
  readonly blockPointer: number
  private readonly blocks: number

  constructor(readonly memory: LinearMemory) {
    const head = this.head()
    this.slotCount = 4 * head[HEAD + HEAD_BLOCK_COUNT]
    this.nodeCount = head[HEAD + HEAD_NODES]
    this.blockPointer = head[HEAD + HEAD_BLOCKS]
    this.blocks = this.blockPointer >> 2
    this.end = head[HEAD + HEAD_END]
    this.renew()
  }

  private head(): Uint32Array {
    return new Uint32Array(this.memory.buffer, 0, TREE_START >> 2)
  }

  /** Makes the views again: memory that is not shared moves when it grows. */
  renew(): void {
    const { buffer } = this.memory
    const head = this.head()
    this.floats = new Float32Array(buffer)
    this.ids = new Uint32Array(buffer, head[HEAD + HEAD_IDS], this.slotCount)
    this.tags = new Uint32Array(buffer, head[HEAD + HEAD_TAGS], this.slotCount)
    this.normals = new Float32Array(buffer, head[HEAD + HEAD_NORMALS], 9 * head[HEAD + HEAD_TRIANGLES])
  }

  /**
   * Index into `floats` of the first corner's x of a slot. Its other coordinates follow at steps of 4: x y z of corner
   * 0, of corner 1, of corner 2.
   */
  cornerBase(slot: number): number {
    return this.blocks + 36 * (slot >> 2) + (slot & 3)
  }

  private boxes: Float32Array | null = null

  /** Float32Array, 6 a part: the box of its triangles, min x y z, max x y z; (+∞, −∞) where it has none. */
  get partBoxes(): Float32Array {
    this.boxes ??= this.findPartBoxes()
    return this.boxes
  }

  /** The box of the parts that a list keeps, one byte a part: 6 numbers as in {@link partBoxes}. Parts beyond the list are in. */
  boxOfParts(parts: Uint8Array): Float32Array {
    const box = Float32Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity)
    const { partBoxes } = this
    for (let part = 0; 6 * part < partBoxes.length; part++) {
      if (part < parts.length && parts[part] === 0) continue
      for (let axis = 0; axis < 3; axis++) {
        box[axis] = Math.min(box[axis], partBoxes[6 * part + axis])
        box[3 + axis] = Math.max(box[3 + axis], partBoxes[6 * part + 3 + axis])
      }
    }
    return box
  }

  private findPartBoxes(): Float32Array {
    const { slotCount, tags, ids, floats } = this
    const partOf = (slot: number) => tags[slot] & 0xffffff
    let parts = 0
    for (let slot = 0; slot < slotCount; slot++)
      if (ids[slot] !== EMPTY_SLOT) parts = Math.max(parts, partOf(slot) + 1)
    const boxes = new Float32Array(6 * parts)
    for (let k = 0; k < boxes.length; k++) boxes[k] = k % 6 < 3 ? Infinity : -Infinity
    for (let slot = 0; slot < slotCount; slot++) {
      if (ids[slot] === EMPTY_SLOT) continue
      const box = 6 * partOf(slot)
      const at = this.cornerBase(slot)
      for (let k = 0; k < 9; k++) {
        const value = floats[at + 4 * k]
        const axis = box + (k % 3)
        if (value < boxes[axis]) boxes[axis] = value
        if (value > boxes[axis + 3]) boxes[axis + 3] = value
      }
    }
    return boxes
  }

  /** Bytes of nodes, triangles, numbers and tags. */
  get bytes(): number {
    return this.end - TREE_START
  }

  /** The box of all. */
  get bounds(): Bounds {
    const min: [number, number, number] = [Infinity, Infinity, Infinity]
    const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
    const root = TREE_START >> 2
    for (let lane = 0; lane < 8; lane++) {
      for (let axis = 0; axis < 3; axis++) {
        min[axis] = Math.min(min[axis], this.floats[root + 8 * axis + lane])
        max[axis] = Math.max(max[axis], this.floats[root + 24 + 8 * axis + lane])
      }
    }
    return { min, max }
  }
}

/** A tree as it crosses to another thread: shared memory as it is, other memory as a copy of its bytes. */
export type RayTreeTransfer =
  | { readonly kind: 'shared'; readonly memory: LinearMemory }
  | { readonly kind: 'bytes'; readonly bytes: Uint8Array }

export const treeToTransfer = (tree: RayTree): RayTreeTransfer =>
  isShared(tree.memory)
    ? { kind: 'shared', memory: tree.memory }
    : { kind: 'bytes', bytes: new Uint8Array(tree.memory.buffer).slice(0, tree.end) }

export function treeFromTransfer(transfer: RayTreeTransfer): RayTree {
  if (transfer.kind === 'shared') return new RayTree(transfer.memory)
  const memory = kernelMemory(transfer.bytes.byteLength + KERNEL_SCRATCH, false)
  new Uint8Array(memory.buffer).set(transfer.bytes)
  return new RayTree(memory)
}

/** Room behind a tree in memory that is not shared, where growing would take the views away. */
export const KERNEL_SCRATCH = 128 * PAGE_BYTES

/**
 * Builds the hierarchy of triangles: eight-wide, by the surface area heuristic (kernel/build.ts).
 * @param vertices Float32Array, 9·T: three corners a triangle.
 * @param tags Uint32Array, T: mask << 24 | part. A ray meets triangles whose mask shares a bit with its own; the mask's
 *   highest bit belongs to the cut-outs.
 * @param normals Float32Array, 9·T: unit shading normals of the corners; null: points of its surfaces are not asked for.
 * @param cutouts where triangles are cut away by a texture.
 * @throws {InvalidValueError} when there is no triangle, or more than memory can hold.
 */
export function buildRayTree(
  vertices: Float32Array,
  tags: Uint32Array,
  {
    normals = null,
    cutouts = null,
    shared,
  }: {
    readonly normals?: Float32Array | null
    readonly cutouts?: Cutouts | null
    readonly shared?: boolean
  } = {},
): RayTree {
  const total = tags.length
  if (total === 0) throw new InvalidValueError('scene', 'must hold at least one triangle', 'none')

  // 1. Build in a memory of its own, with room for the input and the records.
  const verticesAt = TREE_START
  const tagsAt = verticesAt + 36 * total + 16
  const scratchAt = (tagsAt + 4 * total + 63) & ~63
  let built: LinearMemory
  let from: number
  try {
    built = kernelMemory(scratchAt + BUILD_SCRATCH + (32 + 64) * total, false)
    new Float32Array(built.buffer, verticesAt, 9 * total).set(vertices)
    new Uint32Array(built.buffer, tagsAt, total).set(tags)
    if (cutouts) {
      const own = new Uint32Array(built.buffer, tagsAt, total)
      for (let t = 0; t < total; t++) if (cutouts.ofTriangle[t] >= 0) own[t] |= 0x80000000
    }
    from = kernelOver(built).build(verticesAt, tagsAt, total, scratchAt) >>> 0
  } catch (error) {
    throw new InvalidValueError(
      'scene',
      `is too large for this machine's memory (${error instanceof Error ? error.message : String(error)})`,
      `${total} triangles`,
    )
  }

  // 2. What is kept goes into a memory of its size.
  const head = new Uint32Array(built.buffer, 0, TREE_START >> 2).slice()
  const treeEnd = head[HEAD + HEAD_END]
  const normalsEnd = treeEnd + ((4 * (normals?.length ?? 0) + 63) & ~63)
  const end = normalsEnd + (cutouts ? writeCutouts(cutouts, normalsEnd, null) : 0)
  const memory = kernelMemory(end + (shared === false ? KERNEL_SCRATCH : 0), shared)
  const scratch = isShared(memory) ? 0 : KERNEL_SCRATCH
  if (scratch > 0 && memory.buffer.byteLength < end + scratch)
    memory.grow(Math.ceil((end + scratch - memory.buffer.byteLength) / PAGE_BYTES))
  const bytes = new Uint8Array(memory.buffer)
  bytes.set(new Uint8Array(built.buffer, from, treeEnd - TREE_START), TREE_START)
  if (normals) {
    head[HEAD + HEAD_NORMALS] = treeEnd
    head[HEAD + HEAD_TRIANGLES] = total
    new Float32Array(memory.buffer, treeEnd, normals.length).set(normals)
  }
  if (cutouts) {
    head[HEAD + HEAD_CUTS] = normalsEnd
    writeCutouts(cutouts, normalsEnd, memory)
  }
  head[HEAD + HEAD_END] = end
  new Uint32Array(memory.buffer, 0, TREE_START >> 2).set(head)
  return new RayTree(memory)
}

/**
 * Writes the table, the records and the pictures of cut-outs (kernel/trace.ts, isCutAway).
 * @param memory null: only count.
 * @returns bytes they take.
 */
function writeCutouts(cutouts: Cutouts, start: number, memory: LinearMemory | null): number {
  const total = cutouts.ofTriangle.length
  const cutCount = cutouts.ofTriangle.reduce((sum, p) => sum + (p >= 0 ? 1 : 0), 0)
  const recordsAt = start + 4 * total
  let at = recordsAt + 28 * cutCount
  const pictureAt = cutouts.pictures.map((picture) => {
    const here = at
    at += (12 + picture.width * picture.height + 15) & ~15
    return here
  })
  const end = (at + 63) & ~63
  if (!memory) return end - start
  const ints = new Uint32Array(memory.buffer)
  const floats = new Float32Array(memory.buffer)
  let record = recordsAt
  for (let t = 0; t < total; t++) {
    const picture = cutouts.ofTriangle[t]
    ints[(start >> 2) + t] = picture < 0 ? 0 : record
    if (picture < 0) continue
    floats.set(cutouts.uvs.subarray(6 * t, 6 * t + 6), record >> 2)
    ints[(record >> 2) + 6] = pictureAt[picture]
    record += 28
  }
  cutouts.pictures.forEach((picture, p) => {
    const here = pictureAt[p] >> 2
    ints[here] = picture.width
    ints[here + 1] = picture.height
    floats[here + 2] = picture.threshold ?? -1
    new Uint8Array(memory.buffer, pictureAt[p] + 12, picture.alpha.length).set(picture.alpha)
  })
  return end - start
}

/** Checks that every triangle is in one slot, and every box inside its parent's. @returns what is wrong. */
export function validateRayTree(tree: RayTree, triangles: number): string[] {
  const problems: string[] = []
  const seen = new Uint8Array(triangles)
  const { floats } = tree
  const ints = new Uint32Array(tree.memory.buffer)
  const { blockPointer } = tree
  const visit = (node: number, low: readonly number[], high: readonly number[], depth: number): void => {
    if (depth > 200) {
      problems.push('the hierarchy does not end')
      return
    }
    for (let lane = 0; lane < 8; lane++) {
      const ref = ints[node + 48 + lane]
      if (ref === 0) continue
      const min = [0, 1, 2].map((axis) => floats[node + 8 * axis + lane])
      const max = [0, 1, 2].map((axis) => floats[node + 24 + 8 * axis + lane])
      for (let axis = 0; axis < 3; axis++)
        if (min[axis] < low[axis] || max[axis] > high[axis])
          problems.push(`a box at ${node} leaves its parent`)
      if ((ref & 1) === 0) {
        visit(ref >> 2, min, max, depth + 1)
        continue
      }
      const first = 4 * (((ref & ~15) - blockPointer) / 144)
      for (let slot = first; slot < first + 4 * (((ref >> 1) & 7) + 1); slot++) {
        const id = tree.ids[slot]
        if (id === EMPTY_SLOT) continue
        if (seen[id]++) problems.push(`triangle ${id} is in two slots`)
        const at = tree.cornerBase(slot)
        for (let k = 0; k < 9; k++) {
          const value = floats[at + 4 * k]
          if (value < min[k % 3] || value > max[k % 3]) problems.push(`triangle ${id} leaves its box`)
        }
      }
    }
  }
  visit(TREE_START >> 2, [-Infinity, -Infinity, -Infinity], [Infinity, Infinity, Infinity], 0)
  seen.forEach((n, t) => {
    if (n === 0) problems.push(`triangle ${t} is in no slot`)
  })
  return problems
}

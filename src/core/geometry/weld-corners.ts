/** Points of a list in which each is told once for every corner it is, and the numbers of the corners. */
export interface WeldedCorners {
  /** Float32Array, 3·V. */
  readonly positions: Float32Array
  /** Uint32Array, C. */
  readonly numbers: Uint32Array
}

/** Corners looked at ahead. */
const AHEAD = 64

/**
 * Makes one vertex of all corners at the same place, bit for bit (−0 counts as 0), numbered as they first come. What is
 * not a number is never the same.
 * @param corners Float32Array, 3·C; changed in place: −0 becomes 0.
 */
export function weldCorners(corners: Float32Array): WeldedCorners {
  const count = corners.length / 3
  const bits = new Uint32Array(corners.buffer, corners.byteOffset, corners.length)
  for (let i = 0; i < corners.length; i++) if (bits[i] === 0x80000000) bits[i] = 0
  const numbers = new Uint32Array(count)
  const positions = new Float32Array(corners.length)
  const known = new Uint32Array(positions.buffer)
  // A closed mesh has half as many vertices as triangles; a table of a third as many entries as corners is then half full.
  let capacity = 64
  while (capacity < count / 3) capacity *= 2
  let slots = new Uint32Array(capacity)
  let vertices = 0
  const hash = (x: number, y: number, z: number): number => {
    let h = Math.imul(x, 0x9e3779b1)
    h = Math.imul(h ^ (h >>> 15) ^ y, 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 13) ^ z, 0xc2b2ae35)
    return h ^ (h >>> 16)
  }
  const hashes = new Int32Array(AHEAD)
  /** What lay in each slot when it was looked at; a number that is there stays there until the table grows. */
  const ahead = new Uint32Array(AHEAD)
  for (let start = 0; start < count; start += AHEAD) {
    const end = Math.min(count, start + AHEAD)
    // Where a run of corners may be is looked at before any of them is decided, so that memory is waited for once.
    for (let c = start; c < end; c++) {
      const h = hash(bits[3 * c], bits[3 * c + 1], bits[3 * c + 2])
      hashes[c - start] = h
      ahead[c - start] = slots[h & (capacity - 1)]
    }
    const table = slots
    for (let c = start; c < end; c++) {
      const x = bits[3 * c]
      const y = bits[3 * c + 1]
      const z = bits[3 * c + 2]
      let slot = hashes[c - start] & (capacity - 1)
      let first = table === slots ? ahead[c - start] : 0
      for (;;) {
        const found = first || slots[slot]
        first = 0
        if (found === 0) break
        const at = 3 * (found - 1)
        if (known[at] === x && known[at + 1] === y && known[at + 2] === z && !isNaNBits(x, y, z)) break
        slot = (slot + 1) & (capacity - 1)
      }
      if (slots[slot] !== 0) {
        numbers[c] = slots[slot] - 1
        continue
      }
      known[3 * vertices] = x
      known[3 * vertices + 1] = y
      known[3 * vertices + 2] = z
      numbers[c] = vertices
      slots[slot] = ++vertices
      if (2 * vertices < capacity) continue
      capacity *= 2
      slots = new Uint32Array(capacity)
      for (let v = 0; v < vertices; v++) {
        let free = hash(known[3 * v], known[3 * v + 1], known[3 * v + 2]) & (capacity - 1)
        while (slots[free] !== 0) free = (free + 1) & (capacity - 1)
        slots[free] = v + 1
      }
    }
  }
  return { positions: positions.slice(0, 3 * vertices), numbers }
}

const isNaNBits = (x: number, y: number, z: number): boolean =>
  (x & 0x7fffffff) > 0x7f800000 || (y & 0x7fffffff) > 0x7f800000 || (z & 0x7fffffff) > 0x7f800000

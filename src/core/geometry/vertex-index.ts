import type { GrowingFloats } from './growing-array'

/**
 * Finds points that were pushed before, bit for bit: for formats that repeat a vertex in every triangle it belongs to.
 * Open addressing over the bits of the three coordinates; −0 and 0 are one.
 */
export class VertexIndex {
  /** Vertex number + 1 at each slot; 0 is free. */
  private slots = new Uint32Array(4096)
  private readonly floats = new Float32Array(3)
  private readonly bits = new Uint32Array(this.floats.buffer)

  /** @param positions where new points are pushed. */
  constructor(private readonly positions: GrowingFloats) {}

  /** @returns the number of the vertex at that place, new or known. */
  add(x: number, y: number, z: number): number {
    if (this.positions.length * 2 > this.slots.length * 3) this.grow()
    const { floats, positions, slots } = this
    floats[0] = x + 0
    floats[1] = y + 0
    floats[2] = z + 0
    const mask = slots.length - 1
    for (let slot = this.hash() & mask; ; slot = (slot + 1) & mask) {
      const found = slots[slot]
      if (found === 0) {
        const vertex = positions.length / 3
        positions.push3(floats[0], floats[1], floats[2])
        slots[slot] = vertex + 1
        return vertex
      }
      const at = 3 * (found - 1)
      if (
        positions.at(at) === floats[0] &&
        positions.at(at + 1) === floats[1] &&
        positions.at(at + 2) === floats[2]
      )
        return found - 1
    }
  }

  private hash(): number {
    let h = Math.imul(this.bits[0], 0x9e3779b1)
    h = Math.imul(h ^ (h >>> 15) ^ this.bits[1], 0x85ebca6b)
    h = Math.imul(h ^ (h >>> 13) ^ this.bits[2], 0xc2b2ae35)
    return h ^ (h >>> 16)
  }

  /** Twice the slots, everything in its new place. Half of them are free at the least. */
  private grow(): void {
    const old = this.slots
    this.slots = new Uint32Array(old.length * 2)
    const mask = this.slots.length - 1
    for (const entry of old) {
      if (entry === 0) continue
      const at = 3 * (entry - 1)
      for (let axis = 0; axis < 3; axis++) this.floats[axis] = this.positions.at(at + axis)
      let slot = this.hash() & mask
      while (this.slots[slot] !== 0) slot = (slot + 1) & mask
      this.slots[slot] = entry
    }
  }
}

/**
 * Lists of items by cells of grids, one grid for each key: a hash table with open addressing (Knuth 1973, vol. 3, 6.4)
 * whose lists are linked in typed arrays. Items are numbered as they are added.
 */
export class CellLists {
  private keys = new Int32Array(3 * 1024)
  /** Last item of the cell in a slot; −1 where the slot is free. */
  private heads = new Int32Array(1024).fill(-1)
  private used = 0
  private before = new Int32Array(1024)
  private count = 0

  /** @returns the item's number. */
  add(key: number, x: number, y: number): number {
    if (2 * this.used >= this.heads.length) this.grow()
    const slot = this.slotOf(key, x, y)
    if (this.heads[slot] < 0) {
      this.keys.set([key, x, y], 3 * slot)
      this.used++
    }
    if (this.count === this.before.length) {
      const longer = new Int32Array(2 * this.count)
      longer.set(this.before)
      this.before = longer
    }
    this.before[this.count] = this.heads[slot]
    this.heads[slot] = this.count
    return this.count++
  }

  /** The last item of a cell; −1 for none. */
  last(key: number, x: number, y: number): number {
    return this.heads[this.slotOf(key, x, y)]
  }
  /** The item that was added to the same cell before; −1 for none. */
  previous(item: number): number {
    return this.before[item]
  }

  /** The slot of a cell, or the free one where it belongs. */
  private slotOf(key: number, x: number, y: number): number {
    const { keys, heads } = this
    const mask = heads.length - 1
    let hash = Math.imul(key, 0x9e3779b1) ^ Math.imul(x, 0x85ebca6b) ^ Math.imul(y, 0xc2b2ae35)
    hash = Math.imul(hash ^ (hash >>> 15), 0x2c1b3c6d)
    for (let slot = (hash ^ (hash >>> 13)) & mask; ; slot = (slot + 1) & mask) {
      if (heads[slot] < 0) return slot
      if (keys[3 * slot] === key && keys[3 * slot + 1] === x && keys[3 * slot + 2] === y) return slot
    }
  }

  private grow(): void {
    const [keys, heads] = [this.keys, this.heads]
    this.keys = new Int32Array(2 * keys.length)
    this.heads = new Int32Array(2 * heads.length).fill(-1)
    for (let slot = 0; slot < heads.length; slot++) {
      if (heads[slot] < 0) continue
      const [key, x, y] = keys.subarray(3 * slot, 3 * slot + 3)
      const to = this.slotOf(key, x, y)
      this.keys.set([key, x, y], 3 * to)
      this.heads[to] = heads[slot]
    }
  }
}

import { pictureKernelOver, pictureMemory, type PictureExports } from '../../picture/picture-kernel'
import { pagesFor, type LinearMemory } from '../../wasm/linear-memory'

/**
 * Tiles that are kept from one picture to the next, in one memory that workers may share: who first asks for a tile makes it,
 * who asks meanwhile waits. Tiles are named by the key of the step that makes them (what is the same has the same name) and
 * their number in the picture.
 *
 * In memory: nothing up to HEAD; there the lock, the end of what is handed out, and the heads of lists of blocks that were
 * given back, one for each size; then the directory, an open-addressed table of entries; then blocks.
 */
const HEAD = 1024
const LOCK = 0
const END = 1
/** Bytes in use. */
const USED = 2
/** Counts pictures: what is asked for in one is younger than what is not. */
const CLOCK = 3
/** Entries of the directory that have a name, … */
const NAMED = 4
/** … and those whose maker failed. */
const LOST = 5
const LISTS = 8
/** What blocks are made in: cells of wide blurs, masks, kept layers, floating point, what lies about a tile. */
const SIZES = [10, 12, 14, 16, 17, 18, 19, 20, 21, 22, 23, 24].map((bits) => 2 ** bits)
const DIRECTORY = 2048
/** Entries, a power of two. */
const ENTRIES = 1 << 15
/** Of an entry, an i32 each. */
const ENTRY = 8
const STATE = 0
const KEY_A = 1
const KEY_B = 2
const NUMBER = 3
const ADDRESS = 4
const FLAGS = 5
const SIZE = 6
const LAST = 7
const FIRST_BLOCK = DIRECTORY + 4 * ENTRY * ENTRIES

/** Addresses are kept in signed numbers. */
const MOST_BYTES = 2 ** 31 - 1
/** Pages that memory grows by at once, at most: 128 MB. */
const MOST_STEP_PAGES = 2048

/** States of an entry. One whose maker failed is swept away. */
const FREE = 0
const NAMING = 1
const MAKING = 2
const READY = 3
const FAILED = 4

/** Nothing in it: wholly clear, or a mask that hides everything. It then takes no memory. */
export const EMPTY = 1
/** Nothing shows through: alpha 1, or a mask that shows everything. */
export const FULL = 2

export interface KeptTile {
  /** Where it lies; 0 for an empty one. */
  readonly address: number
  readonly flags: number
}

/** The name of a step, 64 bits in two halves. */
export interface StepKey {
  readonly a: number
  readonly b: number
}
/** @param hex 16 hexadecimal digits, as hashes are. */
export const stepKey = (hex: string): StepKey => ({
  a: parseInt(hex.slice(0, 8), 16) | 0,
  b: parseInt(hex.slice(8), 16) | 0,
})

/** No room for another tile: more is asked for at once than memory holds. */
export class NoRoomError extends Error {
  constructor() {
    super('the picture asks for more memory at once than there is')
    this.name = 'NoRoomError'
  }
}

export class KeptTiles {
  readonly kernel: PictureExports
  private words: Int32Array

  /** @param memory one that another holds already, to share it; a new one otherwise. */
  constructor(
    readonly memory: LinearMemory = pictureMemory(FIRST_BLOCK, false),
    isNew = true,
  ) {
    this.kernel = pictureKernelOver(memory)
    this.words = new Int32Array(memory.buffer)
    if (isNew) this.words[(HEAD >> 2) + END] = FIRST_BLOCK
  }

  /** Bytes of blocks that are handed out. */
  get usedBytes(): number {
    return Atomics.load(this.view(), (HEAD >> 2) + USED)
  }

  private get now(): number {
    return this.view()[(HEAD >> 2) + CLOCK]
  }

  /** The memory as it is now: it may have grown. */
  private view(): Int32Array {
    if (this.words.buffer !== this.memory.buffer || this.words.length === 0)
      this.words = new Int32Array(this.memory.buffer)
    return this.words
  }

  floats(address: number, length: number): Float32Array {
    return new Float32Array(this.memory.buffer, address, length)
  }
  bytes(address: number, length: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, address, length)
  }

  private locked<T>(work: (words: Int32Array) => T): T {
    const words = this.view()
    // Held for some hundred nanoseconds: not worth a sleep.
    while (Atomics.compareExchange(words, (HEAD >> 2) + LOCK, 0, 1) !== 0);
    try {
      return work(words)
    } finally {
      Atomics.store(this.view(), (HEAD >> 2) + LOCK, 0)
    }
  }

  private static sizeOf(bytes: number): number {
    const size = SIZES.findIndex((own) => own >= bytes)
    if (size < 0) throw new NoRoomError()
    return size
  }

  /** Room for so many bytes, at most 16 MiB. @throws {NoRoomError} */
  take(bytes: number): number {
    const size = KeptTiles.sizeOf(bytes)
    return this.locked((words) => {
      const head = HEAD >> 2
      words[head + USED] += SIZES[size]
      const given = words[head + LISTS + size]
      if (given !== 0) {
        words[head + LISTS + size] = words[given >> 2]
        return given
      }
      const at = words[head + END]
      if (at + SIZES[size] > MOST_BYTES) {
        words[head + USED] -= SIZES[size]
        throw new NoRoomError()
      }
      const missing = at + SIZES[size] - this.memory.buffer.byteLength
      if (missing > 0) {
        try {
          // Growing may copy all there is: by a share of it.
          const share = pagesFor(this.memory.buffer.byteLength / 2)
          this.memory.grow(Math.max(pagesFor(missing), Math.min(share, MOST_STEP_PAGES)))
        } catch {
          words[head + USED] -= SIZES[size]
          throw new NoRoomError()
        }
      }
      this.view()[head + END] = at + SIZES[size]
      return at
    })
  }

  /** Gives room back. @param bytes as asked for. */
  giveBack(address: number, bytes: number): void {
    const size = KeptTiles.sizeOf(bytes)
    this.locked(() => {
      const words = this.view()
      words[address >> 2] = words[(HEAD >> 2) + LISTS + size]
      words[(HEAD >> 2) + LISTS + size] = address
      words[(HEAD >> 2) + USED] -= SIZES[size]
    })
  }

  /** Begins another picture: what it does not ask for is older than what it does. */
  tick(): void {
    Atomics.add(this.view(), (HEAD >> 2) + CLOCK, 1)
  }

  /** A tile if it is there and ready. */
  find(key: StepKey, number: number): KeptTile | null {
    const at = this.entryOf(key, number, false)
    if (at < 0) return null
    const words = this.view()
    if (Atomics.load(words, at + STATE) !== READY) return null
    words[at + LAST] = this.now
    return { address: words[at + ADDRESS], flags: words[at + FLAGS] }
  }

  /**
   * A tile, made if it is not there.
   * @param bytes its size.
   * @param make writes it at an address and tells its flags; an empty one's memory is given back.
   */
  obtain(key: StepKey, number: number, bytes: number, make: (address: number) => number): KeptTile {
    for (;;) {
      const at = this.entryOf(key, number, true)
      const words = this.view()
      const state = Atomics.compareExchange(words, at + STATE, FREE, MAKING)
      if (state === READY) {
        words[at + LAST] = this.now
        return { address: words[at + ADDRESS], flags: words[at + FLAGS] }
      }
      if (state === FAILED) throw new Error('a part of the picture could not be made')
      if (state === MAKING) {
        Atomics.wait(words, at + STATE, MAKING)
        continue
      }
      return this.make(at, bytes, make)
    }
  }

  private make(at: number, bytes: number, make: (address: number) => number): KeptTile {
    let address = 0
    try {
      address = this.take(bytes)
      const flags = make(address)
      if (flags & EMPTY) {
        this.giveBack(address, bytes)
        address = 0
      }
      const words = this.view()
      words[at + ADDRESS] = address
      words[at + FLAGS] = flags
      words[at + SIZE] = bytes
      words[at + LAST] = this.now
      this.settle(at, READY)
      return { address, flags }
    } catch (error) {
      if (address !== 0) this.giveBack(address, bytes)
      Atomics.add(this.view(), (HEAD >> 2) + LOST, 1)
      this.settle(at, FAILED)
      throw error
    }
  }

  private settle(at: number, state: number): void {
    const words = this.view()
    Atomics.store(words, at + STATE, state)
    Atomics.notify(words, at + STATE)
  }

  /**
   * Where an entry stands, in words.
   * @param isNew puts the name into a free place where it is not there: its state is then FREE no more but for the caller.
   * @returns −1 where it is not there.
   */
  private entryOf(key: StepKey, number: number, isNew: boolean): number {
    const words = this.view()
    let place = Math.imul(key.a ^ Math.imul(number + 1, 0x9e3779b1), 0x85ebca6b) ^ key.b
    place ^= place >>> 15
    for (let tried = 0; tried < ENTRIES; tried++, place++) {
      const at = (DIRECTORY >> 2) + ENTRY * (place & (ENTRIES - 1))
      const name = at + STATE
      for (;;) {
        const state = Atomics.load(words, name)
        if (state === NAMING) continue
        if (words[at + KEY_A] === key.a && words[at + KEY_B] === key.b && words[at + NUMBER] === number + 1)
          return at
        if (words[at + NUMBER] !== 0) break
        if (!isNew) return -1
        if (Atomics.compareExchange(words, name, FREE, NAMING) !== FREE) continue
        if (words[at + NUMBER] === 0) {
          words[at + KEY_A] = key.a
          words[at + KEY_B] = key.b
          words[at + NUMBER] = number + 1
          Atomics.add(words, (HEAD >> 2) + NAMED, 1)
        }
        Atomics.store(words, name, FREE)
      }
    }
    throw new NoRoomError()
  }

  /**
   * Lets go of the longest unused tiles where more than so many bytes are in use, and of some more: to let go costs as much
   * for one as for many. Nobody may be at work meanwhile.
   * @param keeps tiles asked for since the last so many ticks stay.
   */
  shrinkTo(mostBytes: number, keeps = 0): void {
    const words = this.view()
    const head = HEAD >> 2
    let over = this.usedBytes - mostBytes
    // The table is to stay loose: half full at most.
    if (over <= 0 && words[head + NAMED] <= ENTRIES / 2 && words[head + LOST] === 0) return
    if (over > 0) over += mostBytes >> 4
    const live: number[] = []
    for (let e = 0; e < ENTRIES; e++) {
      const at = (DIRECTORY >> 2) + ENTRY * e
      if (words[at + NUMBER] !== 0 && words[at + STATE] === READY) live.push(at)
    }
    let many = live.length - ENTRIES / 2
    live.sort((a, b) => words[a + LAST] - words[b + LAST])
    const kept: Int32Array[] = []
    for (const at of live) {
      const isOld = words[at + LAST] <= this.now - keeps
      if ((over > 0 || many > 0) && isOld) {
        many--
        if (words[at + ADDRESS] === 0) continue
        over -= SIZES[KeptTiles.sizeOf(words[at + SIZE])]
        this.giveBack(words[at + ADDRESS], words[at + SIZE])
      } else kept.push(words.slice(at, at + ENTRY))
    }
    words.fill(0, DIRECTORY >> 2, FIRST_BLOCK >> 2)
    words[head + NAMED] = 0
    words[head + LOST] = 0
    for (const entry of kept) {
      const at = this.entryOf({ a: entry[KEY_A], b: entry[KEY_B] }, entry[NUMBER] - 1, true)
      words.set(entry, at)
    }
  }
}

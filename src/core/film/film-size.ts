/** What a film measures, and how it is played. */
export interface FilmShape {
  readonly width: number
  readonly height: number
  /** How many frames there are. */
  readonly frames: number
  /** Frames a second. */
  readonly rate: number
  /** How many times it is played; 0 is again and again. */
  readonly plays: number
}

/** Something that is written frame by frame: what is given out is written to the file in order. */
export interface FilmWriter {
  /** @param rgba straight, 4·width·height bytes of the next frame. @returns bytes of the file. */
  readonly frame: (rgba: Uint8Array) => Uint8Array
  /** After the last frame. */
  readonly end: () => Uint8Array
}

interface Rectangle {
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

/** The least rectangle that holds all that differs between two frames; null where nothing does. */
export function changedPart(
  before: Uint8Array,
  now: Uint8Array,
  width: number,
  height: number,
): Rectangle | null {
  const [a, b] = [words(before), words(now)]
  let [left, right, top, bottom] = [width, -1, -1, -1]
  for (let y = 0, row = 0; y < height; y++, row += width) {
    let first = 0
    while (first < width && a[row + first] === b[row + first]) first++
    if (first === width) continue
    let last = width - 1
    while (a[row + last] === b[row + last]) last--
    if (top < 0) top = y
    bottom = y
    left = Math.min(left, first)
    right = Math.max(right, last)
  }
  return top < 0 ? null : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 }
}

const words = (bytes: Uint8Array): Uint32Array =>
  bytes.byteOffset % 4 === 0
    ? new Uint32Array(bytes.buffer, bytes.byteOffset, bytes.length >> 2)
    : new Uint32Array(bytes.slice().buffer)

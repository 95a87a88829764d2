import { InvalidValueError, UnreadableFileError } from '../errors'
import { joinBytes } from '../join-bytes'
import type { FilmShape } from './film-size'

/** Bits of the first byte of `VP8X`: that it moves, and that something of it is clear. */
const [MOVES, HAS_ALPHA] = [0x02, 0x10]
/** A frame replaces what lies in its place, and stays for the next. */
const REPLACE = 0x02

const ascii = (text: string): Uint8Array => Uint8Array.from(text, (c) => c.charCodeAt(0))

/** A chunk of a RIFF file: its length is even in the file. */
function chunk(name: string, ...data: Uint8Array[]): Uint8Array {
  const body = joinBytes(data)
  const out = new Uint8Array(8 + body.length + (body.length & 1))
  out.set(ascii(name))
  new DataView(out.buffer).setUint32(4, body.length, true)
  out.set(body, 8)
  return out
}

function set24(bytes: Uint8Array, at: number, value: number): void {
  bytes[at] = value & 255
  bytes[at + 1] = (value >> 8) & 255
  bytes[at + 2] = (value >> 16) & 255
}

/** What a WebP picture holds of pixels: its `ALPH`, `VP8 ` and `VP8L` chunks as they stand. @throws {UnreadableFileError} */
function pixelChunks(file: Uint8Array, name: string): Uint8Array[] {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength)
  const word = (at: number): string => String.fromCharCode(...file.subarray(at, at + 4))
  if (file.length < 20 || word(0) !== 'RIFF' || word(8) !== 'WEBP')
    throw new UnreadableFileError(name, 'is no WebP picture')
  const found: Uint8Array[] = []
  for (let at = 12; at + 8 <= file.length;) {
    const length = view.getUint32(at + 4, true)
    const end = at + 8 + length + (length & 1)
    if (end > file.length) throw new UnreadableFileError(name, 'is cut short')
    if (['ALPH', 'VP8 ', 'VP8L'].includes(word(at))) found.push(file.subarray(at, end))
    at = end
  }
  if (found.length === 0) throw new UnreadableFileError(name, 'holds no pixels')
  return found
}

/** Times that frames are shown, in whole milliseconds: together as long as the film, whatever each is rounded to. */
export function frameMs(frame: number, rate: number): number {
  return Math.round((1000 * (frame + 1)) / rate) - Math.round((1000 * frame) / rate)
}

/** A film whose length is told at its beginning, and known at its end: the first bytes are written once more. */
export interface WebpWriter {
  /** The first bytes of the file, to be written over when the rest is there. */
  readonly head: () => Uint8Array
  /** @param picture a WebP file of the next frame. @returns bytes that follow. */
  readonly frame: (picture: Uint8Array) => Uint8Array
}

/**
 * Writes an animated WebP (RFC 9649, section 2.7) of pictures that are WebP files already.
 * @param isClear whether something of some frame is clear.
 * @throws {InvalidValueError} for more frames than were told; {UnreadableFileError} for one that is no WebP.
 */
export function webpWriter({ width, height, frames, rate, plays }: FilmShape, isClear: boolean): WebpWriter {
  let count = 0
  let body = 0
  const animation = new Uint8Array(6)
  // Bytes 0 to 3 are the colour of a viewer's ground: clear.
  new DataView(animation.buffer).setUint16(4, Math.min(65_535, plays), true)
  const extended = new Uint8Array(10)
  extended[0] = MOVES | (isClear ? HAS_ALPHA : 0)
  set24(extended, 4, width - 1)
  set24(extended, 7, height - 1)
  const begin = joinBytes([chunk('VP8X', extended), chunk('ANIM', animation)])
  return {
    head() {
      const riff = new Uint8Array(12)
      riff.set(ascii('RIFF'))
      new DataView(riff.buffer).setUint32(4, 4 + begin.length + body, true)
      riff.set(ascii('WEBP'), 8)
      return joinBytes([riff, begin])
    },
    frame(picture) {
      if (count === frames) throw new InvalidValueError('frames', `must be ${frames}`, count + 1)
      const control = new Uint8Array(16)
      set24(control, 6, width - 1)
      set24(control, 9, height - 1)
      set24(control, 12, frameMs(count, rate))
      control[15] = REPLACE
      const bytes = chunk('ANMF', control, ...pixelChunks(picture, `frame ${count}`))
      count++
      body += bytes.length
      return bytes
    },
  }
}

import { strFromU8, strToU8 } from 'fflate'

/** UTF-8 or UTF-16 bytes as text; a byte order mark decides, and zeros in every other place where there is none. */
export function decodeText(bytes: Uint8Array): string {
  const mark = bytes.length >= 2 ? (bytes[0] << 8) | bytes[1] : 0
  const zeros = bytes.length >= 4 && bytes.length % 2 === 0
  const little =
    mark === 0xfffe || (zeros && bytes[1] === 0 && bytes[3] === 0 && bytes[0] !== 0 && bytes[2] !== 0)
  const big =
    mark === 0xfeff || (zeros && bytes[0] === 0 && bytes[2] === 0 && bytes[1] !== 0 && bytes[3] !== 0)
  if (little || big) {
    const pieces: string[] = []
    const units: number[] = []
    for (let i = mark === 0xfffe || mark === 0xfeff ? 2 : 0; i + 1 < bytes.length; i += 2) {
      units.push(little ? bytes[i] | (bytes[i + 1] << 8) : bytes[i + 1] | (bytes[i] << 8))
      if (units.length === 8192) pieces.push(String.fromCharCode(...units.splice(0)))
    }
    return pieces.join('') + String.fromCharCode(...units)
  }
  const skip = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0
  return strFromU8(bytes.subarray(skip))
}

/** Text bytes as UTF-8 without a byte order mark, whatever they were; UTF-8 is not copied. */
export function toUtf8(bytes: Uint8Array): Uint8Array {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return bytes.subarray(3)
  const marked = (bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff)
  const paired =
    bytes.length >= 4 && ((bytes[1] === 0 && bytes[3] === 0) || (bytes[0] === 0 && bytes[2] === 0))
  return marked || paired ? strToU8(decodeText(bytes)) : bytes
}

const POWERS = Array.from({ length: 23 }, (_, i) => 10 ** i)

/**
 * Reads numbers and words out of text bytes without making a string of each line. A number with up to 15 digits and a
 * small exponent is exact by one division or product of exact values (Clinger 1990); others go the slow way.
 */
export class TextScanner {
  at = 0
  line = 1

  constructor(readonly bytes: Uint8Array) {}

  get atEnd(): boolean {
    return this.at >= this.bytes.length
  }

  /** Skips blanks and continued line ends (`\` before the end). @returns whether the line goes on. */
  skipBlanks(): boolean {
    const { bytes } = this
    for (;;) {
      const b = bytes[this.at]
      // Control characters are blanks, too: they end a word and must be passed.
      if (b <= 32 && b !== 10 && b !== 13) this.at++
      else if (b === 92 && this.isLineEnd(this.afterBlanks(this.at + 1))) {
        this.at = this.afterBlanks(this.at + 1)
        this.passLineEnd()
      } else return this.at < bytes.length && b !== 10 && b !== 13 && b !== 35
    }
  }
  private afterBlanks(from: number): number {
    let i = from
    while (this.bytes[i] === 32 || this.bytes[i] === 9) i++
    return i
  }
  private isLineEnd(i: number): boolean {
    return this.bytes[i] === 10 || this.bytes[i] === 13
  }
  private passLineEnd(): void {
    if (this.bytes[this.at] === 13 && this.bytes[this.at + 1] === 10) this.at++
    this.at++
    this.line++
  }

  /** Goes to the beginning of the next line; a continued one belongs to this. */
  nextLine(): void {
    const { bytes } = this
    for (;;) {
      while (this.at < bytes.length && !this.isLineEnd(this.at)) this.at++
      if (this.at >= bytes.length) return
      let last = this.at - 1
      while (last >= 0 && (bytes[last] === 32 || bytes[last] === 9)) last--
      const goesOn = bytes[last] === 92
      this.passLineEnd()
      if (!goesOn) return
    }
  }

  /** The next word of this line, '' at its end. */
  word(): string {
    if (!this.skipBlanks()) return ''
    const start = this.at
    while (this.at < this.bytes.length && this.bytes[this.at] > 32) this.at++
    return strFromU8(this.bytes.subarray(start, this.at))
  }

  /** The rest of this line without blanks around it; a `\` at its end goes on with the next. */
  rest(): string {
    let out = ''
    for (;;) {
      const start = this.at
      while (this.at < this.bytes.length && !this.isLineEnd(this.at)) this.at++
      const piece = strFromU8(this.bytes.subarray(start, this.at)).trim()
      if (!piece.endsWith('\\') || this.atEnd) return (out + piece).trim()
      out += piece.slice(0, -1).trimEnd() + ' '
      this.passLineEnd()
    }
  }

  /** The next number of this line: NaN for what is none, and at the line's end. Stops at a blank or a `/`. */
  number(): number {
    if (!this.skipBlanks()) return NaN
    return this.numberHere()
  }

  /** A number that begins right here; NaN where none does. */
  numberHere(): number {
    const { bytes } = this
    const start = this.at
    let i = start
    const negative = bytes[i] === 45
    if (negative || bytes[i] === 43) i++
    let mantissa = 0
    let digits = 0
    let exponent = 0
    for (; bytes[i] >= 48 && bytes[i] <= 57; i++) {
      mantissa = mantissa * 10 + bytes[i] - 48
      if (mantissa > 0) digits++
    }
    let seen = i > start + (negative || bytes[start] === 43 ? 1 : 0)
    if (bytes[i] === 46) {
      i++
      for (; bytes[i] >= 48 && bytes[i] <= 57; i++) {
        mantissa = mantissa * 10 + bytes[i] - 48
        if (mantissa > 0) digits++
        exponent--
        seen = true
      }
    }
    if (seen && (bytes[i] === 101 || bytes[i] === 69)) {
      let j = i + 1
      const down = bytes[j] === 45
      if (down || bytes[j] === 43) j++
      let power = 0
      const from = j
      for (; bytes[j] >= 48 && bytes[j] <= 57; j++) power = Math.min(9999, power * 10 + bytes[j] - 48)
      if (j > from) {
        exponent += down ? -power : power
        i = j
      }
    }
    const isWhole = i >= bytes.length || bytes[i] <= 32 || bytes[i] === 47
    if (seen && isWhole) {
      this.at = i
      if (digits <= 15 && exponent >= -22 && exponent <= 22) {
        const value = exponent < 0 ? mantissa / POWERS[-exponent] : mantissa * POWERS[exponent]
        return negative ? -value : value
      }
      return Number(strFromU8(bytes.subarray(start, i), true))
    }
    while (i < bytes.length && bytes[i] > 32 && bytes[i] !== 47) i++
    this.at = i
    const text = strFromU8(bytes.subarray(start, i), true)
    return text === '' ? NaN : Number(text)
  }
}

import { strFromU8 } from 'fflate'
import type { PlyType } from './ply-header'

/** A file that ends before what it claims to hold. */
export class EndOfFileError extends Error {}

/** The numbers of a PLY body, one after the other. */
export interface NumberSource {
  /** Bytes not read yet. */
  readonly remaining: number
  /** Says which element is read next, for messages. */
  at(element: string, index: number): void
  /** @throws {EndOfFileError} where the file ends. */
  next(type: PlyType): number
}

const SIZES: Readonly<Record<PlyType, number>> = {
  int8: 1,
  uint8: 1,
  int16: 2,
  uint16: 2,
  int32: 4,
  uint32: 4,
  float32: 4,
  float64: 8,
}

abstract class Located {
  private element = ''
  private index = 0

  at(element: string, index: number): void {
    this.element = element
    this.index = index
  }
  protected ended(): EndOfFileError {
    return new EndOfFileError(`the file ends in ${this.element} ${this.index}`)
  }
}

export class BinaryNumbers extends Located implements NumberSource {
  private readonly view: DataView
  private readonly little: boolean
  private offset = 0

  constructor(body: Uint8Array, order: 'little' | 'big') {
    super()
    this.view = new DataView(body.buffer, body.byteOffset, body.byteLength)
    this.little = order === 'little'
  }

  get remaining(): number {
    return this.view.byteLength - this.offset
  }

  next(type: PlyType): number {
    const at = this.offset
    this.offset += SIZES[type]
    if (this.offset > this.view.byteLength) throw this.ended()
    switch (type) {
      case 'float32':
        return this.view.getFloat32(at, this.little)
      case 'uint8':
        return this.view.getUint8(at)
      case 'int32':
        return this.view.getInt32(at, this.little)
      case 'uint32':
        return this.view.getUint32(at, this.little)
      case 'float64':
        return this.view.getFloat64(at, this.little)
      case 'int8':
        return this.view.getInt8(at)
      case 'int16':
        return this.view.getInt16(at, this.little)
      case 'uint16':
        return this.view.getUint16(at, this.little)
      default:
        return type satisfies never
    }
  }
}

export class AsciiNumbers extends Located implements NumberSource {
  private offset = 0

  constructor(private readonly body: Uint8Array) {
    super()
  }

  get remaining(): number {
    return this.body.length - this.offset
  }

  next(): number {
    const { body } = this
    let start = this.offset
    while (start < body.length && body[start] <= 32) start++
    if (start >= body.length) throw this.ended()
    let end = start + 1
    while (end < body.length && body[end] > 32) end++
    this.offset = end
    return Number(strFromU8(body.subarray(start, end), true))
  }
}

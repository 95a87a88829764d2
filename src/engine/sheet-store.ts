import type { PassResult } from '@/core/passes/pass-result'
import type { PassKindName } from '@/core/passes/registry'
import type { ChannelData } from '@/core/picture/channel'
import type { RgbaPicture } from '@/core/picture/rgba-picture'
import type { SheetResources } from '@/core/sheet/sheet-resources'
import { openFont, type FontFile } from '@/core/type/shaper'

/** A rendered pass as sheets see it. */
export interface StoredPass {
  readonly result: PassResult
  /** Changes whenever what it shows does. */
  readonly revision: string
  readonly shotId: string
}
export interface StoredPicture {
  readonly picture: RgbaPicture
  readonly revision: number
}

/** The passes and pictures that a thread holds for the sheets it paints. */
export class SheetStore {
  readonly passes = new Map<string, StoredPass>()
  readonly pictures = new Map<string, StoredPicture>()
  /** Tiles that were painted by hand, by their names. */
  readonly paint = new Map<string, Uint16Array>()

  /** The one of a shot's passes of a kind that masks and effects go by: whichever came first, it is the one of the least id. */
  shotPass(shotId: string | undefined, kind: PassKindName): StoredPass | null {
    let found: string | null = null
    for (const [id, pass] of this.passes)
      if (pass.result.kind === kind && pass.shotId === shotId && (found === null || id < found)) found = id
    return found === null ? null : (this.passes.get(found) ?? null)
  }

  /** Files of fonts, by their ids. */
  readonly fonts = new Map<string, readonly Uint8Array[]>()
  private readonly opened = new WeakMap<readonly Uint8Array[], readonly FontFile[]>()

  private readonly font = (fontId: string): readonly FontFile[] | null => {
    const bytes = this.fonts.get(fontId)
    if (!bytes) return null
    const known = this.opened.get(bytes)
    if (known) return known
    const made = bytes.map(openFont)
    this.opened.set(bytes, made)
    return made
  }

  /** What the evaluator asks for. Passes and pictures have names of their own: one never has the other's. */
  readonly resources: SheetResources = {
    pass: (id) => this.passes.get(id)?.result ?? null,
    picture: (id) => this.pictures.get(id)?.picture ?? null,
    shotPass: (shotId, kind) => this.shotPass(shotId, kind)?.result ?? null,
    font: this.font,
    revision: (id) =>
      this.passes.get(id)?.revision ??
      String(this.pictures.get(id)?.revision ?? (this.fonts.has(id) ? 'font' : 'none')),
    shotRevision: (shotId, kind) => this.shotPass(shotId, kind)?.revision ?? 'none',
    paintTile: (name) => this.paint.get(name) ?? null,
  }
}

type Numbers = ChannelData | Int8Array | Int32Array | Uint32Array | Float64Array

/** A copy in shared memory, which crosses to other threads without being copied again. */
function shared<T>(array: T & Numbers): T {
  const memory = new SharedArrayBuffer(array.byteLength)
  const bytes = new Uint8Array(memory)
  bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength))
  const Same = array.constructor as new (buffer: SharedArrayBuffer) => T
  return new Same(memory)
}

/** A pass with its channels and lines in shared memory. */
export const sharedPass = (result: PassResult): PassResult => ({
  ...result,
  channels: result.channels.map((channel) => shared(channel)),
  ...(result.drawing && {
    drawing: Object.fromEntries(
      Object.entries(result.drawing).map(([name, value]: [string, unknown]) => [
        name,
        ArrayBuffer.isView(value) ? shared(value as Numbers) : value,
      ]),
    ) as unknown as PassResult['drawing'],
  }),
})

/** Bytes in shared memory. */
export const sharedBytes = (bytes: Uint8Array): Uint8Array => shared(bytes)

/** A picture with its pixels in shared memory. */
export const sharedPicture = (picture: RgbaPicture): RgbaPicture => ({
  ...picture,
  pixels: shared(picture.pixels),
})

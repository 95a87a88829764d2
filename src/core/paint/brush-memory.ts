import type { KeptTiles } from '../sheet/evaluate/kept-tiles'
import type { BrushParams } from './brush'
import { GRAIN_SIDE, grainPlane, planeFor, tipPlanes, type TipPlane } from './tip-plane'

/** How many tips and grains stay in memory. */
const MOST = 4

interface Held {
  readonly name: string
  readonly planes: readonly { readonly plane: TipPlane; readonly address: number; readonly bytes: number }[]
}

/** Tips and grains in the memory that the kernel works in; those that were used last stay. */
export class BrushMemory {
  private tips: Held[] = []
  private grains: { readonly name: string; readonly address: number; readonly bytes: number }[] = []

  constructor(private readonly tiles: KeptTiles) {}

  /** The plane of a tip that has about as many pixels as it covers. @param radius of the tip in pixels. */
  tip(kind: string, seed: number, radius: number): { readonly address: number; readonly side: number } {
    const name = `${kind} ${seed}`
    let held = this.tips.find((own) => own.name === name)
    if (!held) {
      const planes = tipPlanes(kind, seed).map((plane) => ({ plane, ...this.put(plane.plane) }))
      held = { name, planes }
    }
    this.tips = [held, ...this.tips.filter((own) => own !== held)]
    for (const { planes } of this.tips.splice(MOST))
      for (const { address, bytes } of planes) this.tiles.giveBack(address, bytes)
    const wanted = planeFor(
      held.planes.map(({ plane }) => plane),
      radius,
    )
    const found = held.planes.find(({ plane }) => plane === wanted) ?? held.planes[0]
    return { address: found.address, side: wanted.side }
  }

  /** A grain's plane of {@link GRAIN_SIDE} pixels; 0 for none. */
  grain(kind: BrushParams['grain']): number {
    if (kind === 'none') return 0
    let held = this.grains.find((own) => own.name === kind)
    held ??= { name: kind, ...this.put(grainPlane(kind)) }
    this.grains = [held, ...this.grains.filter((own) => own !== held)]
    for (const { address, bytes } of this.grains.splice(MOST)) this.tiles.giveBack(address, bytes)
    return held.address
  }

  private put(plane: Float32Array): { address: number; bytes: number } {
    const bytes = plane.byteLength
    const address = this.tiles.take(bytes)
    this.tiles.floats(address, plane.length).set(plane)
    return { address, bytes }
  }
}

export { GRAIN_SIDE }

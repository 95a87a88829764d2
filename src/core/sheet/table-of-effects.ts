import { cubeOf, type GradingTable } from '../formats/cube-table'
import { TABLE_SIZE } from '../effects/own-tables'
import { oklabToSrgb, srgbToOklab } from '../math/oklab'
import type { RgbaPicture } from '../picture/rgba-picture'
import { effectWork } from './evaluate/effect-works'
import type { SheetEffect } from './sheet-schema'

/** A table of what effects make of colours, and which of them no table can hold. */
export interface TableOfEffects {
  readonly table: GradingTable
  /** Effects that look at more than a colour by itself, or work on a part of the picture. */
  readonly left: readonly SheetEffect[]
}

/**
 * Makes one table of all effects of tone and colour.
 * @param pictureOf what tables from files are kept as.
 * @returns null where there is none among them.
 */
export function tableOfEffects(
  title: string,
  effects: readonly SheetEffect[],
  pictureOf: (id: string) => RgbaPicture | null,
): TableOfEffects | null {
  const left: SheetEffect[] = []
  const changes: ((rgb: Float64Array) => void)[] = []
  for (const effect of effects) {
    const work = effect.enabled ? effectWork(effect) : null
    if (!work) continue
    const pictures = work.by === 'colour' ? (work.pictures ?? []).map(pictureOf) : []
    if ((work.by !== 'tone' && work.by !== 'colour') || effect.mask || pictures.includes(null)) {
      left.push(effect)
      continue
    }
    const before = new Float64Array(3)
    changes.push((rgb) => {
      before.set(rgb)
      if (work.by === 'tone') rgb.forEach((v, c) => (rgb[c] = work.curve(v, c)))
      else {
        if (work.space) rgb.set(srgbToOklab([rgb[0], rgb[1], rgb[2]]))
        work.change(rgb, pictures)
        if (work.space) rgb.set(oklabToSrgb([rgb[0], rgb[1], rgb[2]]))
      }
      rgb.forEach((v, c) => {
        const now = Math.min(1, Math.max(0, v))
        rgb[c] = before[c] + effect.opacity * (now - before[c])
      })
    })
  }
  if (changes.length === 0) return null
  const table = cubeOf(title, TABLE_SIZE, (rgb) => changes.forEach((change) => change(rgb)))
  return { table, left }
}

import { brushedStreaks } from './brushed-streaks'
import { canvas } from './canvas'
import { clouds } from './clouds'
import { creases } from './creases'
import { dustScratches } from './dust-scratches'
import { laidPaper } from './laid-paper'
import { paperFibre } from './paper-fibre'
import { photocopy } from './photocopy'
import { plaster } from './plaster'
import type { TextureStyle } from './texture-style'

/** Every texture, in the order it is offered. Adding one is its file and its line here. */
export const TEXTURES: readonly TextureStyle[] = [
  paperFibre,
  laidPaper,
  canvas,
  plaster,
  photocopy,
  dustScratches,
  clouds,
  creases,
  brushedStreaks,
]

const byName = new Map(TEXTURES.map((style) => [style.kind, style]))
if (byName.size !== TEXTURES.length) throw new Error('two textures have one name')

export const textureLabels: Readonly<Record<string, string>> = Object.fromEntries(
  TEXTURES.map(({ kind, label }) => [kind, label]),
)
export const findTexture = (kind: string): TextureStyle | undefined => byName.get(kind)

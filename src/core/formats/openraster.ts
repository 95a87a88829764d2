import { strToU8, zipSync } from 'fflate'
import type { BlendMode } from '../sheet/blend-modes'
import { writePng } from './png'
import { escapeXml } from './escape-xml'

/** One layer of an OpenRaster file: straight 8-bit RGBA of the whole picture. */
export interface OpenRasterLayer {
  readonly name: string
  readonly mode: BlendMode
  readonly opacity: number
  readonly visible: boolean
  readonly rgba: Uint8ClampedArray
}

/** Names of the composite operations by the OpenRaster layer stack specification. */
const OPERATION: Readonly<Record<BlendMode, string>> = {
  normal: 'svg:src-over',
  multiply: 'svg:multiply',
  screen: 'svg:screen',
  overlay: 'svg:overlay',
  darken: 'svg:darken',
  lighten: 'svg:lighten',
  'color-dodge': 'svg:color-dodge',
  'color-burn': 'svg:color-burn',
  'hard-light': 'svg:hard-light',
  'soft-light': 'svg:soft-light',
  difference: 'svg:difference',
  exclusion: 'svg:exclusion',
  hue: 'svg:hue',
  saturation: 'svg:saturation',
  color: 'svg:color',
  luminosity: 'svg:luminosity',
  'plus-lighter': 'svg:plus',
}

/**
 * Writes an OpenRaster file: the layers with mode, opacity and visibility, the merged picture and a thumbnail.
 * @param layers back first.
 * @param merged straight RGBA of the whole stack.
 * @param thumbnail straight RGBA, at most 256 pixels on a side, as the specification asks.
 */
export function writeOpenRaster(
  width: number,
  height: number,
  layers: readonly OpenRasterLayer[],
  merged: Uint8ClampedArray,
  thumbnail: { width: number; height: number; rgba: Uint8ClampedArray },
): Uint8Array {
  const stack = layers
    .map((layer, i) => {
      const attributes = [
        `name="${escapeXml(layer.name)}"`,
        `src="data/layer${String(i).padStart(3, '0')}.png"`,
        'x="0" y="0"',
        `opacity="${Number(layer.opacity.toFixed(4))}"`,
        `visibility="${layer.visible ? 'visible' : 'hidden'}"`,
        `composite-op="${OPERATION[layer.mode]}"`,
      ]
      return `    <layer ${attributes.join(' ')}/>`
    })
    .reverse()
    .join('\n')
  const xml = `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.5" w="${width}" h="${height}">\n  <stack>\n${stack}\n  </stack>\n</image>\n`
  const stored = { level: 0 } as const
  const files: Record<string, [Uint8Array, { level: 0 }]> = {
    // First and uncompressed, so that the kind of file can be told from its first bytes.
    mimetype: [strToU8('image/openraster'), stored],
    'stack.xml': [strToU8(xml), stored],
  }
  layers.forEach((layer, i) => {
    files[`data/layer${String(i).padStart(3, '0')}.png`] = [writePng(width, height, layer.rgba), stored]
  })
  files['mergedimage.png'] = [writePng(width, height, merged), stored]
  files['Thumbnails/thumbnail.png'] = [writePng(thumbnail.width, thumbnail.height, thumbnail.rgba), stored]
  return zipSync(files)
}

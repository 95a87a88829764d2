import { strToU8, zipSync } from 'fflate'
import type { BlendMode } from '../sheet/blend-modes'
import { escapeXml } from './escape-xml'
import { writePng } from './png'

interface OpenRasterCommon {
  readonly name: string
  readonly mode: BlendMode
  readonly opacity: number
  readonly visible: boolean
}
/** One layer of an OpenRaster file: straight 8-bit RGBA of the whole picture. */
export interface OpenRasterLayer extends OpenRasterCommon {
  readonly rgba: Uint8Array | Uint8ClampedArray
}
/** Layers in a stack of their own. */
export interface OpenRasterStack extends OpenRasterCommon {
  readonly isolated: boolean
  /** Back first. */
  readonly children: readonly OpenRasterNode[]
}
export type OpenRasterNode = OpenRasterLayer | OpenRasterStack

/** Names of the composite operations by the OpenRaster layer stack specification; it has none for some modes. */
export const OPERATION: Readonly<Partial<Record<BlendMode, string>>> = {
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
 * Writes an OpenRaster file: layers and stacks of them with mode, opacity and visibility, the merged picture and a thumbnail.
 * @param nodes back first.
 * @param merged straight RGBA of the whole stack.
 * @param thumbnail straight RGBA, at most 256 pixels on a side, as the specification asks.
 */
export function writeOpenRaster(
  width: number,
  height: number,
  nodes: readonly OpenRasterNode[],
  merged: Uint8Array | Uint8ClampedArray,
  thumbnail: { width: number; height: number; rgba: Uint8Array | Uint8ClampedArray },
): Uint8Array {
  const stored = { level: 0 } as const
  const pictures: Record<string, [Uint8Array, { level: 0 }]> = {}
  const tags = (list: readonly OpenRasterNode[], indent: string): string =>
    list
      .map((node) => {
        const name = `name="${escapeXml(node.name)}"`
        const common = [
          `opacity="${Number(node.opacity.toFixed(4))}"`,
          `visibility="${node.visible ? 'visible' : 'hidden'}"`,
          `composite-op="${OPERATION[node.mode] ?? OPERATION.normal}"`,
        ].join(' ')
        if ('children' in node) {
          const isolation = node.isolated ? 'isolate' : 'auto'
          const inner = tags(node.children, `${indent}  `)
          return `${indent}<stack ${name} ${common} isolation="${isolation}">\n${inner}\n${indent}</stack>`
        }
        const src = `data/layer${String(Object.keys(pictures).length).padStart(3, '0')}.png`
        pictures[src] = [writePng(width, height, node.rgba), stored]
        return `${indent}<layer ${name} src="${src}" x="0" y="0" ${common}/>`
      })
      // The specification lists the foremost first.
      .reverse()
      .join('\n')
  const stack = tags(nodes, '    ')
  const xml = `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.5" w="${width}" h="${height}">\n  <stack>\n${stack}\n  </stack>\n</image>\n`
  return zipSync({
    // First and uncompressed, so that the kind of file can be told from its first bytes.
    mimetype: [strToU8('image/openraster'), stored],
    'stack.xml': [strToU8(xml), stored],
    ...pictures,
    'mergedimage.png': [writePng(width, height, merged), stored],
    'Thumbnails/thumbnail.png': [writePng(thumbnail.width, thumbnail.height, thumbnail.rgba), stored],
  })
}

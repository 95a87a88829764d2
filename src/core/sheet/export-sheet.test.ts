import { decode } from 'fast-png'
import { strFromU8, unzipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { fromFront, meshOf, renderPass, sceneModel } from '../testing/shapes'
import { KeptTiles } from './evaluate/kept-tiles'
import { SheetEvaluator } from './evaluate/sheet-evaluator'
import { joinBytes } from '../join-bytes'
import { exportSheet, type SheetFormat } from './export-sheet'
import { evenFill, groupOf, passOf, wash } from './new-layer'
import type { Sheet } from './sheet-schema'
import { testLayer, testResources, testSheet } from './testing/sheets'

const SIZE = { width: 32, height: 20 }
const plate = sceneModel(
  meshOf([
    [
      [-9, -5, 0],
      [9, -5, 0],
      [9, 5, 0],
      [-9, 6, 0],
    ],
  ]),
  'plate',
)
const idPass = renderPass('id', [plate], fromFront(20), SIZE).result
const resources = testResources({}, { pass: (id) => (id === 'id' ? idPass : null), shotPass: () => idPass })
const base = testLayer('base', { content: passOf('id', {}), opacity: 0.8 })
const over = testLayer('over', { content: evenFill('#ff8000'), confine: true, opacity: 0.5 })
const nothing = testLayer('nothing to show', { content: passOf('gone', {}) })
const hidden = testLayer('hidden', { content: evenFill('#00ff00'), visible: false })
const sheet = testSheet(SIZE, [base, over, nothing, hidden], { background: '#336699' })
const exported = (own: Sheet, format: SheetFormat, transparent = false) => {
  const evaluator = new SheetEvaluator(new KeptTiles(), resources)
  return joinBytes([...exportSheet(own, evaluator, resources, format, { ...SIZE, transparent })])
}

interface Read {
  readonly tag: 'layer' | 'stack'
  readonly name: string
  readonly opacity: number
  readonly visible: boolean
  readonly isolated: boolean
  readonly src: string
  /** Foremost first. */
  readonly children: Read[]
}
/** Layers of a stack.xml, by a reader of the test's own. */
function readStack(xml: string): Read[] {
  const root: Read[] = []
  const open: Read[][] = [root]
  for (const [, close, tag, rest] of xml.matchAll(/<(\/?)(layer|stack)([^>]*)>/g)) {
    if (close) {
      open.pop()
      continue
    }
    const value = (name: string) => new RegExp(`${name}="([^"]*)"`).exec(rest)?.[1] ?? ''
    const own: Read = {
      tag: tag as Read['tag'],
      name: value('name'),
      opacity: Number(value('opacity') || 1),
      visible: value('visibility') !== 'hidden',
      isolated: value('isolation') === 'isolate',
      src: value('src'),
      children: [],
    }
    open[open.length - 1].push(own)
    if (tag === 'stack') open.push(own.children)
  }
  return root[0].children
}

/** Normal layers put together, premultiplied 0…255 and alpha 0…1. */
function together(files: Record<string, Uint8Array>, layers: readonly Read[], under: number[]): number[] {
  let now = under
  for (const layer of [...layers].reverse()) {
    if (!layer.visible) continue
    if (layer.tag === 'stack') {
      if (!layer.isolated) {
        now = together(files, layer.children, now)
        continue
      }
      const own = together(files, layer.children, [0, 0, 0, 0]).map((v) => v * layer.opacity)
      now = now.map((v, c) => own[c] + v * (1 - own[3]))
      continue
    }
    const { data } = decode(files[layer.src])
    const at = 4 * PROBE
    const alpha = (data[at + 3] / 255) * layer.opacity
    const own = [data[at] * alpha, data[at + 1] * alpha, data[at + 2] * alpha, alpha]
    now = now.map((v, c) => own[c] + v * (1 - alpha))
  }
  return now
}
let PROBE = 0

function expectTogether(own: Sheet): Read[] {
  const files = unzipSync(exported(own, 'ora'))
  const layers = readStack(strFromU8(files['stack.xml']))
  const merged = decode(files['mergedimage.png'])
  for (let p = 0; p < SIZE.width * SIZE.height; p += 3) {
    PROBE = p
    const made = together(files, layers, [0, 0, 0, 0])
    const alpha = merged.data[4 * p + 3] / 255
    expect(Math.abs(made[3] - alpha)).toBeLessThan(0.01)
    for (let c = 0; c < 3; c++) expect(Math.abs(made[c] - merged.data[4 * p + c] * alpha)).toBeLessThan(2.5)
  }
  return layers
}

describe('exportSheet', () => {
  it('writes an OpenRaster whose layers, put together by another, give its merged picture', () => {
    const layers = expectTogether(sheet)
    expect(layers.map(({ name }) => name)).toEqual([
      'hidden',
      'nothing to show',
      'over',
      'base',
      'Background',
    ])
    expect(layers[0].visible).toBe(false)
  })
  it('writes groups as stacks, one that is weighed as a whole as one layer, and washes as they are seen', () => {
    const group = testLayer('group', { content: groupOf(['base', 'over']), opacity: 0.7 })
    const through = testLayer('through', { content: groupOf(['inner'], false) })
    const inner = testLayer('inner', { content: evenFill('#40302080') })
    const masked = testLayer('masked', {
      content: groupOf(['deep']),
      gate: { own: null, beneath: [0, 0.2, 0.5, 1] },
    })
    const deep = testLayer('deep', { content: evenFill('#ffffff') })
    const levels = { id: 'e', kind: 'levels', version: 1, enabled: true, opacity: 1, mask: null }
    const grade = testLayer('grade', {
      content: wash(),
      effects: [{ ...levels, params: { gamma: 2 } }],
    })
    const own = testSheet(SIZE, [base, over, group, inner, through, deep, masked, grade], {
      background: '#336699',
    })
    const layers = expectTogether(own)
    expect(layers.map(({ name, tag }) => `${tag} ${name}`)).toEqual([
      'layer grade, as seen',
      'layer masked',
      'stack through',
      'stack group',
      'layer Background',
    ])
    expect(layers[3]).toMatchObject({ isolated: true, opacity: 0.7 })
    expect(layers[2].isolated).toBe(false)
    expect(layers[3].children.map(({ name }) => name)).toEqual(['over', 'base'])
  })
  it('writes 8 and 16 bits of the same picture, and no background when asked', () => {
    const decoded = (format: 'png8' | 'png16', transparent: boolean) =>
      decode(exported(sheet, format, transparent))
    const [eight, sixteen] = [decoded('png8', false), decoded('png16', false)]
    expect([eight.depth, sixteen.depth]).toEqual([8, 16])
    for (let i = 0; i < eight.data.length; i++)
      expect(Math.abs(eight.data[i] - sixteen.data[i] / 257)).toBeLessThanOrEqual(0.51)
    const bare = decoded('png8', true)
    expect([bare.data[3], eight.data[3]]).toEqual([0, 255])
  })
})

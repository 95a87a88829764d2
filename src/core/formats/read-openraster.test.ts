import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { joinBytes } from '../join-bytes'
import { exportSheet } from '../sheet/export-sheet'
import { KeptTiles } from '../sheet/evaluate/kept-tiles'
import { SheetEvaluator } from '../sheet/evaluate/sheet-evaluator'
import { layersFromOpenRaster } from '../sheet/layers-from-openraster'
import { sheetSchema, type Sheet } from '../sheet/sheet-schema'
import { composed, testResources } from '../sheet/testing/sheets'
import { randomSheet, resources, SIZE } from '../sheet/testing/random-sheet'
import { readPng, writePng } from './png'
import { readOpenRaster } from './read-openraster'
import { bytesSource } from './zip-file'

const dot = (width = 2, height = 2) =>
  writePng(width, height, new Uint8ClampedArray(4 * width * height).fill(200))
const packed = (
  xml: string,
  files: Record<string, Uint8Array> = { 'data/a.png': dot() },
  mimetype = 'image/openraster',
) => zipSync({ mimetype: strToU8(mimetype), 'stack.xml': strToU8(xml), ...files }, { level: 0 })
const read = (bytes: Uint8Array) => readOpenRaster(bytesSource(bytes), 'harbour.ora')
const image = (inner: string, size = 'w="20" h="10"') =>
  `<?xml version="1.0"?><image ${size}><stack>${inner}</stack></image>`

describe('an OpenRaster file', () => {
  it('is read as layers and stacks, back first, where they lie', async () => {
    const { width, height, nodes, notes } = await read(
      packed(
        image(`
          <layer name="Front &amp; &quot;last&quot;" src="data/a.png" x="3" y="-4" opacity="0.5" composite-op="svg:color-dodge"/>
          <!-- not a layer -->
          <stack name="Haze" x="10" y="1" isolation="auto" visibility="hidden"><layer src="data/a.png" x="1"/></stack>
          <stack name="Alone"/>
          <layer name="Ground" src="data/a.png"/>`),
      ),
    )
    expect([width, height]).toEqual([20, 10])
    expect(notes).toEqual([])
    expect(nodes).toMatchObject([
      { name: 'Ground', mode: 'normal', opacity: 1, visible: true, x: 0, y: 0, width: 2, height: 2 },
      { name: 'Alone', isolated: true, children: [] },
      { name: 'Haze', isolated: false, visible: false, children: [{ name: 'Layer 3', x: 11, y: 1 }] },
      { name: 'Front & "last"', mode: 'color-dodge', opacity: 0.5, x: 3, y: -4 },
    ])
  })
  it('is taken over as far as it is understood, and says what is not', async () => {
    const { nodes, notes } = await read(
      packed(
        image(`
          <filter type="shine"/>
          <layer name="Form" src="data/form.svg"/>
          <layer name="Odd" src="data/a.png" composite-op="svg:dst-out"/>`),
        { 'data/a.png': dot(), 'data/form.svg': strToU8('<svg/>') },
      ),
    )
    expect(nodes.map(({ name, mode }) => [name, mode])).toEqual([['Odd', 'normal']])
    expect(notes).toEqual([
      'A filter is left out: layers and stacks are what is read',
      'Form is left out: data/form.svg is no PNG',
      'Odd is blended normally: svg:dst-out is not known here',
    ])
  })
  it.each([
    ['no zip', new Uint8Array(40), /not a zip/],
    ['another kind', packed(image(''), {}, 'application/epub+zip'), /mimetype is "application\/epub\+zip"/],
    ['no stack', zipSync({ mimetype: strToU8('image/openraster') }), /stack\.xml is missing/],
    ['no XML', packed('<image w="1" h="1"><stack>'), /stack\.xml: line 1/],
    [
      'no text',
      zipSync({ mimetype: strToU8('image/openraster'), 'stack.xml': Uint8Array.of(255, 254, 253) }),
      /stack\.xml: line 1/,
    ],
    ['another root', packed('<picture/>'), /it has no image/],
    ['no size', packed(image('', 'w="20"')), /h of the image is ""/],
    ['a huge size', packed(image('', 'w="2000000" h="2"')), /w of the image is "2000000"/],
    ['a layer without a picture', packed(image('<layer name="A"/>')), /A names no picture/],
    [
      'a picture that is gone',
      packed(image('<layer name="A" src="data/b.png"/>')),
      /data\/b\.png, the picture of A, is missing/,
    ],
    [
      'a picture that is cut',
      packed(image('<layer name="A" src="data/a.png"/>'), { 'data/a.png': dot(30, 30).subarray(0, 50) }),
      /data\/a\.png: /,
    ],
    [
      'an opacity of its own',
      packed(image('<layer src="data/a.png" opacity="2"/>')),
      /opacity of Layer 1 is "2"/,
    ],
    [
      'a place of its own',
      packed(image('<layer name="A" src="data/a.png" x="left"/>')),
      /x of the layer A is "left"/,
    ],
    ['stacks without end', packed(image('<stack>'.repeat(40) + '</stack>'.repeat(40))), /more than 32 deep/],
    ['layers without end', packed(image('<stack/>'.repeat(2001))), /more than 2000 layers/],
    [
      'words that unfold',
      packed(
        '<!DOCTYPE image [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><image w="1" h="1"><stack name="&b;"/></image>',
      ),
      /stack\.xml: /,
    ],
  ])('that has %s is refused by name', async (_, bytes, words) => {
    await expect(read(bytes)).rejects.toThrow(words)
    await expect(read(bytes)).rejects.toThrow(/^harbour\.ora: /)
  })
})

describe('what was written', () => {
  const written = (sheet: Sheet) =>
    joinBytes([
      ...exportSheet(sheet, new SheetEvaluator(new KeptTiles(), resources), resources, 'ora', {
        ...SIZE,
        transparent: false,
      }),
    ])
  /** A sheet of what was read back. */
  async function readBack(bytes: Uint8Array, sheet: Sheet) {
    let count = 0
    const { roots, nodes, pictures } = layersFromOpenRaster(await read(bytes), SIZE, () => `x${count++}`)
    const own = sheetSchema.parse({ ...sheet, background: null, roots, nodes })
    const decoded = Object.fromEntries(pictures.map(({ id, name, png }) => [id, readPng(png, name)]))
    return { own, picture: composed(own, testResources(decoded)) }
  }

  it('gives, read back, the same picture', async () => {
    for (let seed = 50; seed < 58; seed++) {
      // The format blends display values, and eight bits of each layer. What lies behind a wash is there twice, seen and unseen.
      const sheet: Sheet = { ...randomSheet(seed), blendSpace: 'display', background: '#e0d8c8' }
      const { picture } = await readBack(written(sheet), sheet)
      const first = composed(sheet, resources)
      let [sum, far] = [0, 0]
      picture.forEach((v, i) => {
        const off = Math.abs(v - first[i])
        sum += off
        if (off > 0.06) far++
      })
      // Steps of modes make much of a last bit.
      expect(sum / picture.length, `seed ${seed}`).toBeLessThan(2 / 255)
      expect(far / picture.length, `seed ${seed}`).toBeLessThan(0.03)
    }
  })
  it('keeps names, modes, opacities, stacks and what is hidden', async () => {
    const sheet = randomSheet(51)
    const { own } = await readBack(written({ ...sheet, blendSpace: 'display' }), sheet)
    const again = await readBack(written({ ...own, background: null }), own)
    const shape = ({ roots, nodes }: Sheet): unknown => {
      const of = (id: string): unknown => {
        const { name, mode, opacity, visible, content } = nodes[id]
        return [
          name,
          mode,
          opacity,
          visible,
          content.kind === 'group' && [content.isolated, content.children.map(of)],
        ]
      }
      return roots.map(of)
    }
    expect(shape(again.own)).toEqual(shape(own))
  })
  it('lies whole in the middle of a sheet of another shape', async () => {
    const file = {
      width: 20,
      height: 10,
      nodes: (await read(packed(image('<layer src="data/a.png" x="18" y="8"/>')))).nodes,
    }
    let count = 0
    const { nodes, roots } = layersFromOpenRaster(file, { width: 40, height: 40 }, () => `x${count++}`)
    // Twice as large, ten pixels from the top: its last two pixels end at 40, 30.
    expect(nodes[roots[0]].content).toMatchObject({
      centre: [38 / 40, 28 / 40],
      size: [4 / 40, 4 / 40],
      turnDeg: 0,
    })
  })
})

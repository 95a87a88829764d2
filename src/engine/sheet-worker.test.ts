import { afterAll, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { writePng } from '@/core/formats/png'
import type { PassResult } from '@/core/passes/pass-result'
import { toStraight8 } from '@/core/picture/rgba-picture'
import { documentChanges } from '@/core/document-changes'
import { evenFill, newLayer, passOf, wholePicture } from '@/core/sheet/new-layer'
import type { Sheet, SheetNode } from '@/core/sheet/sheet-schema'
import { composed, testResources, testSheet } from '@/core/sheet/testing/sheets'
import { ball, fromFront, renderPass, sceneModel } from '@/core/testing/shapes'
import type { SheetReply } from './sheet-requests'

const FRAME = { width: 24, height: 16 }
const CAMERA = fromFront(4)
const MODELS = [sceneModel(ball(1.1, 12), 'ball')]
const occlusion = (): PassResult => renderPass('occlusion', MODELS, CAMERA, FRAME).result
const id = (): PassResult => renderPass('id', MODELS, CAMERA, FRAME).result

const sheet = (layers: SheetNode[]): Sheet =>
  testSheet(FRAME, layers, { shotId: 'shot', background: '#204060' })
const passLayer = newLayer({ id: 'l', name: 'Occlusion', content: passOf('o', {}) })

type Loose = Omit<SheetReply, 'type'> & { readonly type: string; readonly message?: string }
const replies: Loose[] = []
const scope: { postMessage: (reply: Loose) => void; onmessage?: (event: { data: unknown }) => void } = {
  postMessage: (reply) => replies.push(reply),
}
let asked = 0
/** What the worker answers. */
async function ask(message: Record<string, unknown>): Promise<Loose & Record<string, unknown>> {
  const request = ++asked
  scope.onmessage?.({ data: { request, ...message } })
  // A machine that is busy with other tests may take a while.
  await vi.waitFor(
    () => expect(replies.some((r) => r.request === request && r.type !== 'progress')).toBe(true),
    { timeout: 30_000 },
  )
  return { ...replies.find((r) => r.request === request && r.type !== 'progress') } as Loose &
    Record<string, unknown>
}
const give = (passId: string, result: PassResult | null, revision = '1') =>
  ask({ type: 'pass', passId, shotId: 'shot', revision, result })
/** A canvas as the worker sees one: what was put on it, as straight RGBA. */
class FakeCanvas {
  width = 0
  height = 0
  readonly parts: number[][] = []
  rgba = new Uint8ClampedArray(0)
  getContext = () => ({
    putImageData: (
      image: { data: Uint8ClampedArray; width: number },
      _x: number,
      _y: number,
      ...part: number[]
    ) => {
      if (this.rgba.length === 0) this.rgba = new Uint8ClampedArray(4 * this.width * this.height)
      const [left, top, width, height] = part
      for (let y = top; y < top + height; y++) {
        const at = 4 * (y * image.width + left)
        this.rgba.set(image.data.subarray(at, at + 4 * width), at)
      }
      this.parts.push(part)
    },
  })
}
class FakeImageData {
  readonly data: Uint8ClampedArray
  constructor(
    of: Uint8ClampedArray | number,
    readonly width: number,
    height: number,
  ) {
    this.data = typeof of === 'number' ? new Uint8ClampedArray(4 * of * height) : of
  }
}
let number = 0
const show = (changes = {}) =>
  ask({
    type: 'show',
    view: 0,
    number: ++number,
    seen: { x: 0, y: 0, ...FRAME },
    upTo: 99,
    without: null,
    isDraft: false,
    ...changes,
  })
/** What a new view shows of a sheet of layers. */
async function compose(layers: SheetNode[], changes = {}): Promise<number[]> {
  const canvas = new FakeCanvas()
  const window = { x: 0, y: 0, ...FRAME }
  const [, , shown] = await Promise.all([
    ask({ type: 'sheet', sheet: sheet(layers) }),
    ask({ type: 'canvas', view: 0, canvas, size: FRAME, window }),
    show(changes),
  ])
  expect(shown).toMatchObject({ type: 'shown' })
  return [...canvas.rgba]
}
const bytes = (reply: Record<string, unknown>) => [...(reply.rgba as Uint8ClampedArray)]

beforeAll(async () => {
  vi.stubGlobal('self', scope)
  vi.stubGlobal('ImageData', FakeImageData)
  await import('./sheet-worker')
})
afterAll(() => void vi.unstubAllGlobals())
beforeEach(async () => {
  await give('o', null)
  await give('i', null)
})

describe('the sheet worker', () => {
  it('composes what it was given as the evaluator does, and without a pass what is left', async () => {
    const result = occlusion()
    const resources = testResources({}, { pass: () => result })
    const whole = [...toStraight8(composed(sheet([passLayer]), resources))]
    const plain = await compose([passLayer])
    expect(plain).not.toEqual(whole)
    await give('o', result)
    expect(await compose([passLayer])).toEqual(whole)
    // A sheet up to none of its layers, or without the one, is its ground.
    expect(await compose([passLayer], { upTo: 0 })).toEqual(plain)
    expect(await compose([passLayer], { without: 'l' })).toEqual(plain)
    await give('o', null)
    expect(await compose([passLayer])).toEqual(plain)
  })

  it('shows a pass anew when another result of it comes', async () => {
    await give('o', occlusion(), '1')
    const first = await compose([passLayer])
    const dark = occlusion()
    dark.channels[0].fill(0)
    await give('o', dark, '2')
    expect(await compose([passLayer])).not.toEqual(first)
  })

  it('answers in the order asked: what was given counts for what is asked next, without waiting', async () => {
    const result = occlusion()
    const [, reply] = await Promise.all([give('o', result), compose([passLayer])])
    const alone = await compose([passLayer])
    expect(reply).toEqual(alone)
  })

  it('makes a picture of a pass at any size, and of a part of it', async () => {
    await give('o', occlusion())
    const picture = {
      type: 'pass-picture',
      passId: 'o',
      look: {},
      part: null,
      size: { width: 12, height: 8 },
    }
    expect((await ask(picture)).rgba).toHaveLength(4 * 96)
    const part = { of: FRAME, rect: { x: 8, y: 4, width: 6, height: 4 } }
    const small = await ask({ ...picture, part, size: { width: 6, height: 4 } })
    const full = await ask({ ...picture, part: { of: FRAME, rect: { x: 0, y: 0, ...FRAME } }, size: FRAME })
    const at = 4 * (5 * FRAME.width + 9)
    expect(bytes(small).slice(4 * (6 + 1), 4 * (6 + 2))).toEqual(bytes(full).slice(at, at + 4))
    expect(await ask({ ...picture, passId: 'gone' })).toMatchObject({ type: 'missing' })
  })

  it('tells the part under a place, nothing beside the form, and whether there is anything to tell by', async () => {
    const pick = (x01: number, y01: number) =>
      ask({ type: 'pick', shotId: 'shot', sheet: { ...FRAME, fit: 'extend' }, x01, y01, camera: null })
    expect(await pick(0.5, 0.5)).toMatchObject({ hasIdPass: false, surface: null })
    await give('i', id())
    expect(await pick(0.5, 0.5)).toMatchObject({ hasIdPass: true, surface: { part: 'ball' } })
    expect(await pick(0.01, 0.01)).toMatchObject({ hasIdPass: true, surface: null })
    expect(await pick(-1, 0.5)).toMatchObject({ surface: null })
  })

  it('tells the plane of what lies under a place, with a camera and a depth pass', async () => {
    const pick = (camera: typeof CAMERA | null) =>
      ask({ type: 'pick', shotId: 'shot', sheet: { ...FRAME, fit: 'extend' }, x01: 0.5, y01: 0.5, camera })
    await give('i', id())
    expect(await pick(CAMERA)).toMatchObject({ surface: { part: 'ball' }, plane: null })
    await give('z', renderPass('depth', MODELS, CAMERA, FRAME).result)
    expect(await pick(null)).toMatchObject({ plane: null })
    const { plane } = (await pick(CAMERA)) as unknown as { plane: { normal: number[] } }
    expect(plane.normal[2]).toBeGreaterThan(0.9)
  })

  it('shows pictures until they are dropped, and says which cannot be read', async () => {
    const layer = newLayer({ id: 'p', name: 'Picture', content: wholePicture('p') })
    const ground = await compose([layer])
    const red = Uint8ClampedArray.from({ length: 4 * 24 * 16 }, (_, i) => [255, 0, 0, 255][i % 4])
    const png = writePng(FRAME.width, FRAME.height, red)
    expect(await ask({ type: 'picture', pictureId: 'p', name: 'red.png', bytes: png })).toMatchObject({
      type: 'done',
    })
    expect(await compose([layer])).toEqual([...red])
    await ask({ type: 'drop-picture', pictureId: 'p' })
    expect(await compose([layer])).toEqual(ground)
    const broken = await ask({ type: 'check-picture', name: 'note.png', bytes: new Uint8Array(40) })
    expect(broken).toMatchObject({ type: 'failed' })
    expect(broken.message).toContain('note.png')
  })

  it('holds painted tiles until they are dropped', async () => {
    for (const name of ['first', 'second'])
      await ask({ type: 'paint-tile', name, bytes: new Uint8Array(8 * 128 * 128) })
    const held = async () => {
      const { tiles } = (await ask({ type: 'paint-bytes', names: ['first', 'second'] })) as unknown as {
        tiles: { name: string }[]
      }
      return tiles.map(({ name }) => name)
    }
    expect(await held()).toEqual(['first', 'second'])
    expect(await ask({ type: 'drop-paint', names: ['first', 'never there'] })).toMatchObject({ type: 'done' })
    expect(await held()).toEqual(['second'])
  })

  it('writes a file, telling how far it is', async () => {
    await give('o', occlusion())
    await ask({ type: 'sheet', sheet: sheet([passLayer]) })
    const message = { format: 'png8', size: FRAME, transparent: false }
    const { blob } = await ask({ type: 'export', ...message })
    const file = new Uint8Array(await (blob as Blob).arrayBuffer())
    expect([...file.subarray(1, 4)]).toEqual([...'PNG'].map((c) => c.charCodeAt(0)))
    expect(replies.some((reply) => reply.type === 'progress')).toBe(true)
  })

  it('answers what is no request with a failure, and goes on', async () => {
    expect(await ask({ type: 'sheet', sheet: 'none' })).toMatchObject({ type: 'failed' })
    expect(await ask({ type: 'dance' })).toMatchObject({ type: 'failed' })
    const cut = occlusion()
    const short = { ...cut, channels: cut.channels.map((channel) => channel.slice(1)) }
    expect(await give('o', short)).toMatchObject({ type: 'failed' })
    expect(await compose([passLayer])).toHaveLength(4 * FRAME.width * FRAME.height)
  })

  it('follows a sheet by what changes of it, and paints nothing where nothing shows', async () => {
    await give('o', occlusion())
    const front = newLayer({ id: 'f', name: 'Front', content: evenFill('#ff0000'), opacity: 0.5 })
    await compose([passLayer, front])
    const changed = sheet([passLayer, { ...front, opacity: 0.25 }])
    const canvas = new FakeCanvas()
    await ask({ type: 'canvas', view: 1, canvas, size: FRAME, window: { x: 0, y: 0, ...FRAME } })
    await show({ view: 1 })
    const before = [...canvas.rgba]
    expect(
      await ask({ type: 'patch', changes: documentChanges(sheet([passLayer, front]), changed) }),
    ).toMatchObject({ type: 'done' })
    await show({ view: 1 })
    const after = [...canvas.rgba]
    expect(after).not.toEqual(before)
    expect(after).toEqual(await compose([passLayer, { ...front, opacity: 0.25 }]))
    const painted = canvas.parts.length
    await ask({ type: 'patch', changes: [{ path: ['nodes', 'f', 'name'], value: 'Another name' }] })
    expect(await show({ view: 1 })).toMatchObject({ type: 'shown' })
    expect(canvas.parts).toHaveLength(painted)
  })

  it('refuses a change that leads nowhere or to no sheet, and is asked for nothing of it until it is given anew', async () => {
    await compose([passLayer])
    for (const change of [
      { path: ['nodes', 'gone', 'name'], value: 'x' },
      { path: ['nodes', 'l', 'opacity'], value: 2 },
      { path: ['width'], value: 'wide' },
    ]) {
      expect(await ask({ type: 'patch', changes: [change] })).toMatchObject({ type: 'failed' })
      expect(await show()).toMatchObject({ type: 'failed', message: 'sheet must be given first' })
      expect(await compose([passLayer])).not.toHaveLength(0)
    }
  })

  it('ends what is not the newest of its view, and says where there is no canvas', async () => {
    await compose([passLayer])
    // The first is at work when the others come.
    const all = await Promise.all([show(), show(), show()])
    expect(all.map(({ type }) => type)).toEqual(['shown', 'ended', 'shown'])
    expect(await show({ view: 7 })).toMatchObject({ type: 'missing' })
    await ask({ type: 'close-view', view: 0 })
    expect(await show()).toMatchObject({ type: 'missing' })
  })
})

import { strToU8 } from 'fflate'
import {
  EncodedPacket,
  EncodedVideoPacketSource,
  BufferTarget,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny'
import { readFileSync } from 'node:fs'
import path from 'node:path'
import sharp from 'sharp'
import { compress as compressWoff2, decompress as decompressWoff2 } from 'woff2-encoder'
import { CORPUS } from '@/core/formats/corpus/all'
import { writeExr } from '@/core/formats/exr'
import { writeOpenRaster } from '@/core/formats/openraster'
import { readModel } from '@/core/formats/model-readers'
import { readOpenRaster } from '@/core/formats/read-openraster'
import { readPassBundle, writePassBundle } from '@/core/formats/pass-bundle'
import { writePng } from '@/core/formats/png'
import { unfoldWoff } from '@/core/formats/woff'
import { ARCHIVE_ZIP, bytesSource, ZipFile } from '@/core/formats/zip-file'
import { validateMesh } from '@/core/geometry/polygon-mesh'
import type { PassResult } from '@/core/passes/pass-result'
import { passKind } from '@/core/passes/registry'
import { allocateChannel } from '@/core/picture/channel'
import { openFont } from '@/core/type/shaper'
import { newProject } from '@/data/new-project'
import { openProjectEntries, readProjectArchive, writeProjectArchive } from '@/data/project-archive'
import { readRecipeFile, writeRecipeFile } from '@/data/recipes/recipe-file'
import { READY_RECIPES } from '@/data/recipes/ready/registry'
import { testModel, testRendered } from '@/data/testing/fixtures'
import { decodeDome } from '@/engine/decode-dome'
import { decodeFont } from '@/engine/decode-font'
import { decodePicture } from '@/engine/decode-picture'
import { openApart } from './open-apart'

/** A kind of file that is read from outside: sound ones, and what reads them to the end. */
export interface HostileReader {
  readonly kind: string
  /** Sound files, small ones: what is spoiled. */
  readonly sound: () => Promise<readonly { readonly name: string; readonly bytes: Uint8Array }[]>
  /**
   * Reads one as the application does, and uses what it holds.
   * @param isSound whether it was not spoiled: it must be read, however long a busy machine takes.
   * @throws {UnreadableFileError} where it is refused.
   */
  readonly read: (bytes: Uint8Array, name: string, isSound: boolean) => Promise<void>
}

const [WIDTH, HEIGHT] = [24, 16]
const grain = (i: number): number => (i * 2654435761) % 251
const rgba = (): Uint8Array => Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, (_, i) => grain(i))
const pixels = () => sharp(rgba(), { raw: { width: WIDTH, height: HEIGHT, channels: 4 } })

function exrs(): { name: string; bytes: Uint8Array }[] {
  const plane = () => Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => grain(i) / 100)
  const halves = () => Uint16Array.from({ length: WIDTH * HEIGHT }, (_, i) => 0x3000 + grain(i))
  const names = ['A', 'B', 'G', 'R']
  return [
    {
      name: 'float.exr',
      bytes: writeExr(
        WIDTH,
        HEIGHT,
        names.map((name) => ({ name, type: 'float', data: plane() })),
      ),
    },
    {
      name: 'half.exr',
      bytes: writeExr(
        WIDTH,
        HEIGHT,
        names.map((name) => ({ name, type: 'half', data: halves() })),
      ),
    },
  ]
}

/** Radiance pictures: rows as they are, and as runs. */
function hdrs(): { name: string; bytes: Uint8Array }[] {
  const head = strToU8(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${HEIGHT} +X ${WIDTH}\n`)
  const rows = Array.from({ length: HEIGHT }, (_, y) => [
    2,
    2,
    0,
    WIDTH,
    ...Array.from({ length: 4 }, (_, c) => [
      ...[128 + 8, grain(y + c)],
      WIDTH - 8,
      ...Array.from({ length: WIDTH - 8 }, (_, x) => grain(x * y + c)),
    ]).flat(),
  ])
  return [{ name: 'sky.hdr', bytes: Uint8Array.from([...head, ...rows.flat()]) }]
}

async function pictures() {
  return [
    { name: 'a.png', bytes: writePng(WIDTH, HEIGHT, rgba()) },
    {
      name: 'b.png',
      bytes: new Uint8Array(await pixels().png({ palette: true, progressive: true }).toBuffer()),
    },
    { name: 'a.jpg', bytes: new Uint8Array(await pixels().removeAlpha().jpeg().toBuffer()) },
    {
      name: 'b.jpg',
      bytes: new Uint8Array(await pixels().removeAlpha().jpeg({ progressive: true }).toBuffer()),
    },
    { name: 'a.webp', bytes: new Uint8Array(await pixels().webp().toBuffer()) },
    { name: 'b.webp', bytes: new Uint8Array(await pixels().webp({ lossless: true }).toBuffer()) },
  ]
}

function tables() {
  const lines = (count: number, per: number) =>
    Array.from({ length: count }, (_, i) =>
      Array.from({ length: per }, (_, c) => ((i * 7 + c) % 11) / 10).join(' '),
    )
  return [
    { name: 'cube.cube', bytes: strToU8(['TITLE "Dusk"', 'LUT_3D_SIZE 3', ...lines(27, 3)].join('\n')) },
    {
      name: 'curve.cube',
      bytes: strToU8(['DOMAIN_MIN 0 0 0', 'DOMAIN_MAX 1 1 1', 'LUT_1D_SIZE 16', ...lines(16, 3)].join('\n')),
    },
  ]
}

async function fonts() {
  const folded = new Uint8Array(readFileSync(path.resolve('public/fonts/amiri-latin-ext-400-normal.woff')))
  const plain = unfoldWoff(folded)
  return [
    { name: 'a.woff', bytes: folded },
    { name: 'a.ttf', bytes: plain },
    { name: 'a.woff2', bytes: new Uint8Array(await compressWoff2(plain)) },
  ]
}

async function films() {
  return Promise.all(
    [new Mp4OutputFormat(), new WebMOutputFormat()].map(async (format) => {
      const target = new BufferTarget()
      const output = new Output({ format, target })
      const source = new EncodedVideoPacketSource('vp8')
      output.addVideoTrack(source, { frameRate: 25 })
      await output.start()
      const decoderConfig = { codec: 'vp8', codedWidth: WIDTH, codedHeight: HEIGHT }
      for (let k = 0; k < 6; k++) {
        const data = Uint8Array.from({ length: 40 }, (_, i) => grain(i + k))
        const packet = new EncodedPacket(data, k === 0 ? 'key' : 'delta', k / 25, 1 / 25)
        await source.add(packet, k === 0 ? { decoderConfig } : undefined)
      }
      await output.finalize()
      return {
        name: `film${format.fileExtension}`,
        bytes: new Uint8Array(target.buffer ?? new ArrayBuffer(0)),
      }
    }),
  )
}

function openRasters() {
  const common = { mode: 'multiply', opacity: 0.8, visible: true } as const
  const layer = (name: string) => ({ ...common, name, rgba: rgba() })
  const nodes = [layer('Paper'), { ...common, name: 'Group', isolated: true, children: [layer('Ink')] }]
  const thumbnail = { width: WIDTH, height: HEIGHT, rgba: rgba() }
  return [{ name: 'sheet.ora', bytes: writeOpenRaster(WIDTH, HEIGHT, nodes, rgba(), thumbnail) }]
}

/** A depth pass of a few pixels. */
function depthPass(): PassResult {
  const channels = passKind('depth')
    .channels([], {})
    .map(({ format }) => allocateChannel(format, WIDTH * HEIGHT).map((_, i) => grain(i)))
  const facts = { near: 2, far: 9 }
  return {
    kind: 'depth',
    width: WIDTH,
    height: HEIGHT,
    channels,
    surfaces: [],
    lights: [],
    params: {},
    facts,
    drawing: null,
  }
}

async function archives() {
  const project = newProject('Kiosk')
  const pass = project.passes.find(({ kind }) => kind === 'depth') ?? {
    ...project.passes[0],
    kind: 'depth' as const,
  }
  const rendered = testRendered({ width: WIDTH, height: HEIGHT, facts: { near: 2, far: 9 } })
  const whole = {
    ...project,
    models: [testModel()],
    passes: [...project.passes.filter(({ id }) => id !== pass.id), { ...pass, rendered }],
  }
  const files = new Map([['f', { name: 'k.obj', bytes: strToU8('v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') }]])
  return [
    {
      name: 'kiosk.zip',
      bytes: await writeProjectArchive({ project: whole, files, results: new Map([['r', depthPass()]]) }),
    },
  ]
}

const models: HostileReader[] = CORPUS.map(([kind, list]) => ({
  kind: `models ${kind}`,
  sound: async () =>
    list.flatMap(({ entry, files, want }) => {
      const bytes = files.get(entry)
      return typeof want === 'number' && files.size === 1 && bytes && bytes.length <= 8192
        ? [{ name: entry, bytes }]
        : []
    }),
  read: async (bytes, name) => {
    const { mesh } = await readModel(new Map([[name, bytes]]), name)
    validateMesh(mesh)
  },
}))

/** Every kind of file that comes from outside. */
export const HOSTILE_READERS: readonly HostileReader[] = [
  ...models,
  { kind: 'pictures', sound: pictures, read: async (bytes, name) => void (await decodePicture(bytes, name)) },
  {
    kind: 'EXR',
    sound: async () => exrs(),
    read: async (bytes, name) => void (await decodePicture(bytes, name)),
  },
  {
    kind: 'HDR',
    sound: async () => [...hdrs(), ...exrs()],
    read: async (bytes, name) => void (await decodeDome(bytes, name)),
  },
  {
    kind: 'grading tables',
    sound: async () => tables(),
    read: async (bytes, name) => void (await decodePicture(bytes, name)),
  },
  {
    kind: 'fonts',
    sound: fonts,
    read: async (bytes, name) => {
      const file = openFont(
        await decodeFont(bytes, name, async (own) => new Uint8Array(await decompressWoff2(own))),
      )
      const font = file.at(Object.fromEntries(file.axes.map(({ tag, max }) => [tag, max])))
      void [file.nameOf(1), file.features]
      const text = 'Pell Harbour, 1912 fi'
      for (const { glyph } of font.shape(text, 0, text.length, 'right', { liga: 1 })) font.outline(glyph)
    },
  },
  {
    kind: 'films',
    sound: films,
    read: openApart,
  },
  {
    kind: 'OpenRaster',
    sound: async () => openRasters(),
    read: async (bytes, name) => void (await readOpenRaster(bytesSource(bytes), name)),
  },
  {
    kind: 'archives',
    sound: archives,
    read: async (bytes, name) => void (await readProjectArchive(bytes, name)),
  },
  {
    kind: 'documents',
    sound: async () =>
      [1, 2, 3, 4, 5].map((version) => ({
        name: `version-${version}.json`,
        bytes: new Uint8Array(
          readFileSync(path.resolve(`src/data/testing/documents/version-${version}.json`)),
        ),
      })),
    read: async (bytes, name) =>
      void (await openProjectEntries({ has: () => true, read: () => Promise.resolve(bytes) }, name)),
  },
  {
    kind: 'passes',
    sound: async () => [
      { name: 'depth.zip', bytes: writePassBundle(depthPass(), { rays: 1, seconds: 1, samples: 1 }) },
    ],
    read: async (bytes, name) =>
      void (await readPassBundle(await ZipFile.open(bytesSource(bytes), name, ARCHIVE_ZIP), name)),
  },
  {
    kind: 'recipes',
    sound: async () =>
      Promise.all(
        READY_RECIPES.slice(0, 4).map(async (recipe) => ({
          name: `${recipe.name}.zip`,
          bytes: await writeRecipeFile({
            recipe,
            seen: new Uint8Array(writePng(WIDTH, HEIGHT, rgba())),
            pictures: new Map(),
          }),
        })),
      ),
    read: async (bytes, name) => void (await readRecipeFile(bytesSource(bytes), name)),
  },
]

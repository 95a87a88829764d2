// One file: a list of hard files: each is written beside what is wanted of it.
import { encoded, joined, utf8, type HardFile } from './hard-file'

const NOTHING = /holds no usable polygon/
type Json = Record<string, unknown>

const floats = (...values: number[]) => new Uint8Array(Float32Array.from(values).buffer)
const shorts = (...values: number[]) => new Uint8Array(Uint16Array.from(values).buffer)
const SIX_BITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'
/** Base64 of bytes whose number three divides (RFC 4648). */
const base64 = (bytes: Uint8Array): string => {
  let out = ''
  for (let i = 0; i < bytes.length; i += 3) {
    const bits = (bytes[i] << 16) | (bytes[i + 1] << 8) | bytes[i + 2]
    for (const shift of [18, 12, 6, 0]) out += SIX_BITS[(bits >> shift) & 63]
  }
  return out
}

const PLACES = floats(0, 0, 0, 2, 0, 0, 2, 1, 0, 0, 1, 0)
/** Two triangles of a square, indices padded to four bytes. */
const INDICES = shorts(0, 1, 2, 0, 2, 3)
const DATA = joined(PLACES, INDICES)

/** A document of one square; the change is made to a fresh copy. */
function square(change: (json: SquareJson) => void = () => undefined): SquareJson {
  const json: SquareJson = {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [{ name: 'Square', mesh: 0 }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }],
    buffers: [{ byteLength: DATA.length }],
    bufferViews: [
      { buffer: 0, byteOffset: 0, byteLength: 48 },
      { buffer: 0, byteOffset: 48, byteLength: 12 },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 4, type: 'VEC3', min: [0, 0, 0], max: [2, 1, 0] },
      { bufferView: 1, componentType: 5123, count: 6, type: 'SCALAR' },
    ],
  }
  change(json)
  return json
}
interface SquareJson extends Json {
  asset: Json
  scene?: number
  scenes?: Json[]
  nodes: Json[]
  meshes: { primitives: (Json & { attributes: Record<string, number> })[]; weights?: number[] }[]
  buffers: Json[]
  bufferViews: Json[]
  accessors: Json[]
}

function glb(
  json: unknown,
  binary: Uint8Array | null = DATA,
  header: { magic?: number; version?: number; length?: number; jsonLength?: number; binLength?: number } = {},
): Uint8Array {
  const pad = (bytes: Uint8Array, by: number) =>
    joined(bytes, new Uint8Array((4 - (bytes.length % 4)) % 4).fill(by))
  const text = pad(typeof json === 'string' ? utf8(json) : utf8(JSON.stringify(json)), 32)
  const chunk = (bytes: Uint8Array, kind: number, length = bytes.length) =>
    joined(new Uint8Array(Uint32Array.of(length, kind).buffer), bytes)
  const chunks = joined(
    chunk(text, 0x4e4f534a, header.jsonLength),
    ...(binary ? [chunk(pad(binary, 0), 0x004e4942, header.binLength)] : []),
  )
  const head = Uint32Array.of(
    header.magic ?? 0x46546c67,
    header.version ?? 2,
    header.length ?? 12 + chunks.length,
  )
  return joined(new Uint8Array(head.buffer), chunks)
}

const asGlb = (
  name: string,
  bytes: Uint8Array,
  want: HardFile['want'],
  more: Partial<HardFile> = {},
): HardFile => ({
  name,
  entry: 'a.glb',
  files: new Map([['a.glb', bytes]]),
  want,
  ...more,
})
const good = (
  name: string,
  change: (json: SquareJson) => void,
  want: number | RegExp = 2,
  more: Partial<HardFile> = { size: [2, 1, 0] },
) => asGlb(name, glb(square(change)), want, more)
/** The same with more bytes behind those of the square; views into them begin at 60. */
const withBytes = (
  name: string,
  more: Uint8Array,
  change: (json: SquareJson) => void,
  want: number | RegExp = 2,
  rest: Partial<HardFile> = {},
) =>
  asGlb(
    name,
    glb(
      square((json) => {
        json.buffers[0].byteLength = DATA.length + more.length
        json.bufferViews.push({ buffer: 0, byteOffset: DATA.length, byteLength: more.length })
        change(json)
      }),
      joined(DATA, more),
    ),
    want,
    rest,
  )
const beside = (
  name: string,
  json: Json | string,
  files: Record<string, Uint8Array>,
  want: HardFile['want'],
  more: Partial<HardFile> = {},
): HardFile => ({
  name,
  entry: 'a.gltf',
  files: new Map([
    ['a.gltf', typeof json === 'string' ? utf8(json) : utf8(JSON.stringify(json))],
    ...Object.entries(files),
  ]),
  want,
  ...more,
})
const uri = (value: string) => square((json) => void (json.buffers[0].uri = value))
const primitive = (json: SquareJson) => json.meshes[0].primitives[0]

const sound: readonly HardFile[] = [
  good('a square', () => undefined),
  good('no scene named', (j) => void delete j.scene),
  good('no scene at all', (j) => {
    delete j.scene
    delete j.scenes
  }),
  good('two scenes of one node', (j) => void (j.scenes = [{ nodes: [0] }, { nodes: [0] }])),
  good('a node without a name', (j) => void delete j.nodes[0].name),
  good('a matrix', (j) => void (j.nodes[0].matrix = [3, 0, 0, 0, 0, 2, 0, 0, 0, 0, 1, 0, 5, 5, 5, 1]), 2, {
    size: [6, 2, 0],
  }),
  good(
    'move, turn and scale',
    (j) =>
      void Object.assign(j.nodes[0], {
        translation: [1, 2, 3],
        rotation: [0, 0, Math.SQRT1_2, Math.SQRT1_2],
        scale: [2, 2, 2],
      }),
    2,
    { size: [2, 4, 0] },
  ),
  good('a mirror', (j) => void (j.nodes[0].scale = [-1, 1, 1])),
  good('a scale of 0', (j) => void (j.nodes[0].scale = [0, 0, 0]), /holds 2 polygons, and none has an area/),
  good('a node with a parent of 500', (j) => {
    for (let i = 0; i < 500; i++) j.nodes.push({ children: [i === 0 ? 0 : i] })
    j.scenes = [{ nodes: [500] }]
  }),
  good(
    'one mesh used four times',
    (j) => {
      for (let i = 1; i < 4; i++) j.nodes.push({ mesh: 0, translation: [3 * i, 0, 0] })
      j.scenes = [{ nodes: [0, 1, 2, 3] }]
    },
    8,
    { size: [11, 1, 0] },
  ),
  good('no indices, as a strip', (j) => {
    delete primitive(j).indices
    primitive(j).mode = 5
  }),
  good('no indices, as a fan', (j) => {
    delete primitive(j).indices
    primitive(j).mode = 6
  }),
  good('no indices, as triangles, with a vertex too many', (j) => void delete primitive(j).indices, 1),
  good('lines and points beside triangles', (j) => {
    j.meshes[0].primitives.push(
      { attributes: { POSITION: 0 }, mode: 1 },
      { attributes: { POSITION: 0 }, mode: 0 },
    )
  }),
  good(
    'a primitive without places beside a sound one',
    (j) => void j.meshes[0].primitives.push({ attributes: {} }),
  ),
  good('unknown fields everywhere', (j) => {
    j.extras = { a: [1, { b: 2 }] }
    j.nodes[0].extras = 'x'
    primitive(j).extras = null
  }),
  good('an extension that nobody knows, not required', (j) => void (j.extensionsUsed = ['EXT_unheard_of'])),
  good('a material with a picture that is nowhere', (j) => {
    j.images = [{ uri: 'gone.png' }]
    j.textures = [{ source: 0 }]
    j.materials = [{ pbrMetallicRoughness: { baseColorTexture: { index: 0 } } }]
    primitive(j).material = 0
  }),
  good('an unlit, see-through, two-sided material', (j) => {
    j.extensionsUsed = ['KHR_materials_unlit']
    j.materials = [
      {
        alphaMode: 'BLEND',
        doubleSided: true,
        extensions: { KHR_materials_unlit: {} },
        pbrMetallicRoughness: { baseColorFactor: [1, 0, 0, 0.5] },
      },
    ]
    primitive(j).material = 0
  }),
  good('a camera beside the mesh', (j) => {
    j.cameras = [{ type: 'perspective', perspective: { yfov: 0.7, znear: 0.1 } }]
    j.nodes.push({ camera: 0, translation: [0, 0, 5] })
    j.scenes = [{ nodes: [0, 1] }]
  }),
  withBytes(
    'indices as bytes',
    Uint8Array.of(0, 1, 2, 0, 2, 3),
    (j) => void Object.assign(j.accessors[1], { bufferView: 2, componentType: 5121 }),
    2,
    { size: [2, 1, 0] },
  ),
  withBytes(
    'indices as long numbers',
    new Uint8Array(Uint32Array.of(0, 1, 2, 0, 2, 3).buffer),
    (j) => void Object.assign(j.accessors[1], { bufferView: 2, componentType: 5125 }),
    2,
    { size: [2, 1, 0] },
  ),
  withBytes(
    'an index beyond the places',
    shorts(0, 1, 9, 0, 2, 3),
    (j) => void (j.accessors[1].bufferView = 2),
    1,
    { warns: ['index-out-of-range'] },
  ),
  withBytes(
    'the same index thrice',
    shorts(1, 1, 1, 0, 2, 3),
    (j) => void (j.accessors[1].bufferView = 2),
    1,
  ),
  withBytes(
    'sparse places',
    joined(shorts(2), shorts(0), floats(4, 4, 0)),
    (j) => {
      j.bufferViews[2].byteLength = 4
      j.bufferViews.push({ buffer: 0, byteOffset: DATA.length + 4, byteLength: 12 })
      j.accessors[0].sparse = {
        count: 1,
        indices: { bufferView: 2, componentType: 5123 },
        values: { bufferView: 3 },
      }
    },
    2,
    { size: [4, 4, 0] },
  ),
  withBytes(
    'places as short whole numbers',
    new Uint8Array(Int16Array.of(0, 0, 0, 0, 200, 0, 0, 0, 200, 100, 0, 0, 0, 100, 0, 0).buffer),
    (j) => {
      j.extensionsUsed = j.extensionsRequired = ['KHR_mesh_quantization']
      j.bufferViews[2].byteStride = 8
      Object.assign(j.accessors[0], { bufferView: 2, componentType: 5122 })
    },
    2,
    { size: [200, 100, 0] },
  ),
  withBytes(
    'places as shares of a byte',
    Uint8Array.of(0, 0, 0, 0, 255, 0, 0, 0, 255, 255, 0, 0, 0, 255, 0, 0),
    (j) => {
      j.extensionsUsed = j.extensionsRequired = ['KHR_mesh_quantization']
      j.bufferViews[2].byteStride = 4
      Object.assign(j.accessors[0], { bufferView: 2, componentType: 5121, normalized: true })
    },
    2,
    { size: [1, 1, 0] },
  ),
  withBytes(
    'places and normals woven together',
    floats(
      ...[
        [0, 0, 0],
        [2, 0, 0],
        [2, 1, 0],
        [0, 1, 0],
      ].flatMap((p) => [...p, 0, 0, 1]),
    ),
    (j) => {
      j.bufferViews[2].byteStride = 24
      j.accessors[0].bufferView = 2
      j.accessors.push({ bufferView: 2, byteOffset: 12, componentType: 5126, count: 4, type: 'VEC3' })
      primitive(j).attributes.NORMAL = 2
    },
    2,
    { size: [2, 1, 0] },
  ),
  withBytes('normals that are no numbers', floats(...Array<number>(12).fill(NaN)), (j) => {
    j.accessors.push({ bufferView: 2, componentType: 5126, count: 4, type: 'VEC3' })
    primitive(j).attributes.NORMAL = 2
  }),
  withBytes(
    'colours of four bytes',
    Uint8Array.of(255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255, 9, 9, 9, 255),
    (j) => {
      j.accessors.push({ bufferView: 2, componentType: 5121, normalized: true, count: 4, type: 'VEC4' })
      primitive(j).attributes.COLOR_0 = 2
    },
  ),
  withBytes(
    'a morph at half',
    floats(0, 0, 0, 2, 0, 0, 2, 0, 0, 0, 0, 0),
    (j) => {
      j.accessors.push({ bufferView: 2, componentType: 5126, count: 4, type: 'VEC3' })
      primitive(j).targets = [{ POSITION: 2 }]
      j.meshes[0].weights = [0.5]
    },
    2,
    { size: [3, 1, 0] },
  ),
  withBytes(
    'three instances',
    floats(0, 0, 0, 5, 0, 0, 10, 0, 0),
    (j) => {
      j.extensionsUsed = j.extensionsRequired = ['EXT_mesh_gpu_instancing']
      j.accessors.push({ bufferView: 2, componentType: 5126, count: 3, type: 'VEC3' })
      j.nodes[0].extensions = { EXT_mesh_gpu_instancing: { attributes: { TRANSLATION: 2 } } }
    },
    6,
    { size: [12, 1, 0] },
  ),
  withBytes(
    'a corner that is nowhere',
    floats(NaN, 0, 0, 2, 0, 0, 2, 1, 0, 0, 1, 0),
    (j) => void (j.accessors[0].bufferView = 2),
    /no usable polygon/,
  ),
  beside('a buffer in a file of its own', uri('a.bin'), { 'a.bin': DATA }, 2, { size: [2, 1, 0] }),
  beside('a buffer whose name is written in percents', uri('my%20data.bin'), { 'my data.bin': DATA }, 2),
  beside('a buffer in another folder than it says', uri('deep/er/a.bin'), { 'a.bin': DATA }, 2),
  beside('a buffer longer than it says', uri('a.bin'), { 'a.bin': joined(DATA, new Uint8Array(5)) }, 2),
  beside('a buffer in the text itself', uri(`data:application/octet-stream;base64,${base64(DATA)}`), {}, 2),
  {
    name: 'text as UTF-16',
    entry: 'a.gltf',
    files: new Map([
      ['a.gltf', encoded(JSON.stringify(uri('a.bin')), 'utf16le')],
      ['a.bin', DATA],
    ]),
    want: 2,
  },
  {
    name: 'text with a mark',
    entry: 'a.gltf',
    files: new Map([
      ['a.gltf', encoded(JSON.stringify(uri('a.bin')), 'utf8 mark')],
      ['a.bin', DATA],
    ]),
    want: 2,
  },
]

const CANNOT = /a\.gl(b|tf): /
const refused: readonly HardFile[] = [
  asGlb('nothing', new Uint8Array(0), /the file is empty/),
  asGlb('zeros', new Uint8Array(64), /not a GLB/),
  asGlb('four bytes', utf8('glTF'), /not a GLB/),
  asGlb('another kind', utf8('this is no model, whatever its name says'), /not a GLB/),
  asGlb('a length beyond its end', glb(square(), DATA, { length: 1e6 }), /claims 1000000 bytes/),
  asGlb('a text chunk beyond its end', glb(square(), DATA, { jsonLength: 1e6 }), /JSON chunk runs past/),
  asGlb('a binary chunk beyond its end', glb(square(), DATA, { binLength: 1e6 }), /binary chunk runs past/),
  asGlb('a text chunk without text', glb('', DATA), /cannot be parsed/),
  asGlb('half a text', glb('{"asset":{"version":', DATA), /cannot be parsed/),
  asGlb('no binary chunk', glb(square(), null), /is nowhere|should hold/),
  asGlb('a binary chunk too short', glb(square(), DATA.slice(0, 20)), /should hold 60 bytes/),
  asGlb('a list for a document', glb('[]'), CANNOT),
  asGlb('a word for a document', glb('"glTF"'), CANNOT),
  asGlb('null for a document', glb('null'), CANNOT),
  asGlb('brackets a hundred thousand deep', glb('['.repeat(100_000) + ']'.repeat(100_000)), CANNOT),
  good('version 1.0', (j) => void (j.asset.version = '1.0'), /version 1\.0/),
  good('version 3.0', (j) => void (j.asset.version = '3.0'), /version 3\.0/),
  good('no version', (j) => void (j.asset = {}), /asset\.version/),
  good(
    'a required extension that nobody knows',
    (j) => void (j.extensionsRequired = ['EXT_unheard_of']),
    /EXT_unheard_of/,
  ),
  good(
    'nodes in a circle',
    (j) => void (j.nodes = [{ children: [1], mesh: 0 }, { children: [0] }]),
    /its own ancestor/,
  ),
  good('a node that holds itself', (j) => void (j.nodes[0].children = [0]), /its own ancestor/),
  good('a child that is not there', (j) => void (j.nodes[0].children = [7]), /does not exist \(7\)/),
  good('a child of −1', (j) => void (j.nodes[0].children = [-1]), CANNOT),
  good('a mesh that is not there', (j) => void (j.nodes[0].mesh = 7), CANNOT),
  good('a root that is not there', (j) => void (j.scenes = [{ nodes: [7] }]), CANNOT),
  good('places that are not there', (j) => void (primitive(j).attributes.POSITION = 9), CANNOT),
  good('indices that are not there', (j) => void (primitive(j).indices = 9), CANNOT),
  good(
    'a view that is not there',
    (j) => void (j.accessors[0].bufferView = 9),
    /buffer view that does not exist \(9\)/,
  ),
  good(
    'a buffer that is not there',
    (j) => void (j.bufferViews[0].buffer = 9),
    /buffer that does not exist \(9\)/,
  ),
  good('a view past the end', (j) => void (j.bufferViews[1].byteLength = 1000), /runs past the end/),
  good('a view from −4', (j) => void (j.bufferViews[0].byteOffset = -4), CANNOT),
  good('a billion places', (j) => void (j.accessors[0].count = 1e9), /claims 1000000000 elements/),
  good(
    'a billion places out of nothing',
    (j) => void Object.assign(j.accessors[0], { count: 1e9, bufferView: undefined }),
    /brings none of them/,
  ),
  good('a count with a fraction', (j) => void (j.accessors[0].count = 3.5), /accessors\.0\.count/),
  good('a count of letters', (j) => void (j.accessors[0].count = 'four'), /accessors\.0\.count/),
  good(
    'numbers of a kind that nobody knows',
    (j) => void (j.accessors[0].componentType = 5999),
    /of a kind that glTF does not know/,
  ),
  good('places of two numbers', (j) => void Object.assign(j.accessors[0], { type: 'VEC2' }), CANNOT),
  good(
    'a gigabyte out of a kilobyte',
    (j) => {
      j.bufferViews[0].extensions = {
        EXT_meshopt_compression: {
          buffer: 0,
          byteLength: 40,
          byteStride: 12,
          count: 1e8,
          mode: 'ATTRIBUTES',
        },
      }
    },
    /claims to unpack/,
  ),
  good('only lines', (j) => void (primitive(j).mode = 1), NOTHING),
  good('only a node', (j) => void (j.nodes = [{}]), NOTHING),
  good('no polygon', (j) => void (j.meshes[0].primitives = []), CANNOT),
  beside('a buffer that was not given', uri('far.bin'), {}, /far\.bin\) is not among the files given/),
  beside(
    'a buffer in a far place',
    uri('https://pell-harbour.example/a.bin'),
    {},
    /is not among the files given/,
  ),
  beside('a buffer of the machine', uri('file:///etc/passwd'), {}, /is not among the files given/),
  beside(
    'a buffer too short',
    uri('a.bin'),
    { 'a.bin': DATA.slice(0, 30) },
    /should hold 60 bytes and holds 30/,
  ),
  beside('data that is no data', uri('data:application/octet-stream;base64,!!!!'), {}, CANNOT),
  beside('a web page', '<!doctype html>', {}, /cannot be parsed/),
  beside(
    'nested 3000 deep',
    {
      asset: { version: '2.0' },
      nodes: Array.from({ length: 3000 }, (_, i) => (i < 2999 ? { children: [i + 1] } : {})),
    },
    {},
    /nested more than 512 deep/,
  ),
]

export const HARD_GLTF: readonly HardFile[] = [...sound, ...refused]

import { joined, utf8, type HardFile } from './hard-file'

type Format = 'ascii' | 'binary_little_endian' | 'binary_big_endian'
const FORMATS: readonly Format[] = ['ascii', 'binary_little_endian', 'binary_big_endian']
const SIZES: Readonly<Record<string, number>> = {
  char: 1,
  uchar: 1,
  short: 2,
  ushort: 2,
  int: 4,
  uint: 4,
  float: 4,
  double: 8,
  int8: 1,
  uint8: 1,
  int16: 2,
  uint16: 2,
  int32: 4,
  uint32: 4,
  float32: 4,
  float64: 8,
}
const NOTHING = /no usable polygon/

interface Property {
  readonly name: string
  readonly type: string
  /** Type of the count, for a list. */
  readonly list?: string
}
interface Element {
  readonly name: string
  readonly properties: readonly Property[]
  /** One row per element: a number per property, or a list. */
  readonly rows: readonly (readonly (number | readonly number[])[])[]
}

function put(view: DataView, at: number, type: string, value: number, little: boolean): number {
  const size = SIZES[type]
  if (type.startsWith('float') || type === 'double') {
    if (size === 4) view.setFloat32(at, value, little)
    else view.setFloat64(at, value, little)
  } else if (size === 1) view.setUint8(at, value & 255)
  else if (size === 2) view.setUint16(at, value & 65535, little)
  else view.setUint32(at, value >>> 0, little)
  return at + size
}

function body(format: Format, elements: readonly Element[]): Uint8Array {
  if (format === 'ascii')
    return utf8(
      elements
        .flatMap((e) =>
          e.rows.map((row) =>
            row.map((v) => (typeof v === 'number' ? v : [v.length, ...v].join(' '))).join(' '),
          ),
        )
        .join('\n') + '\n',
    )
  const view = new DataView(new ArrayBuffer(1 << 16))
  const little = format === 'binary_little_endian'
  let at = 0
  for (const { properties, rows } of elements)
    for (const row of rows)
      row.forEach((value, p) => {
        const { type, list } = properties[p]
        if (typeof value === 'number') at = put(view, at, type, value, little)
        else {
          at = put(view, at, list ?? 'uchar', value.length, little)
          for (const v of value) at = put(view, at, type, v, little)
        }
      })
  return new Uint8Array(view.buffer.slice(0, at))
}

const head = (format: Format, elements: readonly Element[], end = '\n', remarks: readonly string[] = []) =>
  ['ply', `format ${format} 1.0`, ...remarks]
    .concat(
      elements.flatMap((e) => [
        `element ${e.name} ${e.rows.length}`,
        ...e.properties.map((p) => `property ${p.list ? `list ${p.list} ` : ''}${p.type} ${p.name}`),
      ]),
    )
    .concat('end_header')
    .map((line) => line + end)
    .join('')

const ply = (
  name: string,
  bytes: string | Uint8Array,
  want: HardFile['want'],
  more: Partial<HardFile> = {},
): HardFile => ({
  name,
  entry: 'a.ply',
  files: new Map([['a.ply', typeof bytes === 'string' ? utf8(bytes) : bytes]]),
  want,
  ...more,
})
const whole = (format: Format, elements: readonly Element[], end = '\n', remarks: readonly string[] = []) =>
  joined(utf8(head(format, elements, end, remarks)), body(format, elements))

const XYZ = (type = 'float'): readonly Property[] => ['x', 'y', 'z'].map((name) => ({ name, type }))
const PLACES = [
  [0, 0, 0],
  [2, 0, 0],
  [2, 1, 0],
  [0, 1, 0],
] as const
const vertex = (properties = XYZ(), rows: Element['rows'] = PLACES): Element => ({
  name: 'vertex',
  properties,
  rows,
})
const face = (
  rows: readonly (readonly number[])[] = [[0, 1, 2, 3]],
  type = 'int',
  list = 'uchar',
  name = 'vertex_indices',
): Element => ({
  name: 'face',
  properties: [{ name, type, list }],
  rows: rows.map((row) => [row]),
})
const SIZE = { size: [2, 1, 0] as const }

const indexTypes = FORMATS.flatMap((format) =>
  ['char', 'uchar', 'short', 'ushort', 'int', 'uint', 'int8', 'uint32'].map((type) =>
    ply(`${format}, indices as ${type}`, whole(format, [vertex(), face(undefined, type)]), 1, SIZE),
  ),
)
const countTypes = FORMATS.flatMap((format) =>
  ['ushort', 'int', 'uint8'].map((type) =>
    ply(`${format}, counts as ${type}`, whole(format, [vertex(), face(undefined, 'int', type)]), 1, SIZE),
  ),
)
const placeTypes = FORMATS.flatMap((format) =>
  ['double', 'short', 'int', 'float32', 'float64'].map((type) =>
    ply(`${format}, places as ${type}`, whole(format, [vertex(XYZ(type)), face()]), 1, SIZE),
  ),
)
const withMore = FORMATS.flatMap((format) => [
  ply(
    `${format}, properties in another order and some that nobody knows`,
    whole(format, [
      vertex(
        [
          { name: 'quality', type: 'uchar' },
          { name: 'z', type: 'float' },
          { name: 'x', type: 'double' },
          { name: 'flags', type: 'ushort' },
          { name: 'y', type: 'float' },
        ],
        PLACES.map(([x, y, z]) => [7, z, x, 9, y]),
      ),
      face(),
    ]),
    1,
    SIZE,
  ),
  ply(
    `${format}, a list at each vertex`,
    whole(format, [
      vertex(
        [...XYZ(), { name: 'neighbours', type: 'int', list: 'uchar' }],
        PLACES.map((p, i) => [...p, Array(i).fill(1) as number[]]),
      ),
      face(),
    ]),
    1,
    SIZE,
  ),
  ply(`${format}, faces before vertices`, whole(format, [face(), vertex()]), 1, SIZE),
  ply(
    `${format}, elements that nobody knows, before and behind`,
    whole(format, [
      { name: 'material', properties: [{ name: 'shine', type: 'float' }], rows: [[1], [2]] },
      vertex(),
      face(),
      {
        name: 'edge',
        properties: [{ name: 'ends', type: 'int', list: 'uchar' }],
        rows: [[[0, 1]], [[1, 2, 3]]],
      },
    ]),
    1,
    SIZE,
  ),
  ply(
    `${format}, colours as bytes`,
    whole(format, [
      vertex(
        [...XYZ(), ...['red', 'green', 'blue', 'alpha'].map((name) => ({ name, type: 'uchar' }))],
        PLACES.map((p) => [...p, 255, 0, 51, 255]),
      ),
      face(),
    ]),
    1,
    SIZE,
  ),
  ply(
    `${format}, colours as shares`,
    whole(format, [
      vertex(
        [...XYZ(), ...['red', 'green', 'blue'].map((name) => ({ name, type: 'float' }))],
        PLACES.map((p) => [...p, 1, 0, 0.25]),
      ),
      face(),
    ]),
    1,
    SIZE,
  ),
  ply(
    `${format}, polygons of three to five sides`,
    whole(format, [
      vertex(XYZ(), [...PLACES, [-1, 0.5, 0]]),
      face([
        [0, 1, 2],
        [0, 1, 2, 3],
        [0, 1, 2, 3, 4],
      ]),
    ]),
    3,
  ),
  ply(
    `${format}, vertex_index for a name`,
    whole(format, [vertex(), face(undefined, 'int', 'uchar', 'vertex_index')]),
    1,
    SIZE,
  ),
  ply(
    `${format}, faces of no, one and two corners beside a sound one`,
    whole(format, [vertex(), face([[], [0], [0, 1], [0, 1, 2, 3]])]),
    1,
    SIZE,
  ),
  ply(
    `${format}, a face that names vertex 9`,
    whole(format, [
      vertex(),
      face([
        [0, 1, 9],
        [0, 1, 2],
      ]),
    ]),
    1,
    { warns: ['index-out-of-range'] },
  ),
  ply(`${format}, no face at all`, whole(format, [vertex(), face([])]), NOTHING),
])
const square = (format: Format) => whole(format, [vertex(), face()])
const cuts = FORMATS.flatMap((format) => {
  const bytes = square(format)
  return [1, 3, 8, bytes.length >> 1].map((off) =>
    ply(
      `${format}, cut by ${off} of its bytes`,
      bytes.slice(0, bytes.length - off),
      format === 'ascii' && off === 1
        ? 1
        : /ends in|cut short|no end_header|claims|more than the file can hold/,
    ),
  )
})
const claim = (format: Format, element: string, count: string) =>
  ply(
    `${format}, a claim of ${count} of ${element}`,
    joined(
      utf8(
        head(format, [vertex(), face()]).replace(
          new RegExp(`element ${element} \\d+`),
          `element ${element} ${count}`,
        ),
      ),
      body(format, [vertex(), face()]),
    ),
    /more than the file can hold|no sound count|ends in|cut short|claims/,
  )
const claims = FORMATS.flatMap((format) => [
  claim(format, 'vertex', '1000000000'),
  claim(format, 'face', '4294967295'),
  claim(format, 'vertex', '-4'),
  claim(format, 'face', '1e9'),
])
const headers: readonly HardFile[] = [
  ply('a header with the line ends of another system', whole('ascii', [vertex(), face()], '\r\n'), 1, SIZE),
  ply(
    'a binary file whose header ends its lines in two bytes',
    whole('binary_little_endian', [vertex(), face()], '\r\n'),
    1,
    SIZE,
  ),
  ply(
    'remarks in the header',
    whole('binary_little_endian', [vertex(), face()], '\n', [
      'comment made by hand',
      'obj_info nothing',
      'comment',
    ]),
    1,
    SIZE,
  ),
  ply('bytes behind the last face', joined(square('binary_little_endian'), new Uint8Array(9)), 1, SIZE),
  ply('nothing', '', /the file is empty/),
  ply('another kind', 'solid x\nfacet\n', /its first line is not "ply"/),
  ply('no end of the header', 'ply\nformat ascii 1.0\nelement vertex 3\n', /has no end_header/),
  ply('a format that nobody knows', 'ply\nformat ebcdic 1.0\nend_header\n', /format ebcdic/),
  ply(
    'a type that nobody knows',
    'ply\nformat ascii 1.0\nelement vertex 1\nproperty quark x\nend_header\n0\n',
    /quark/,
  ),
  ply(
    'vertices without places',
    'ply\nformat ascii 1.0\nelement vertex 1\nproperty float a\nelement face 0\nproperty list uchar int vertex_indices\nend_header\n0\n',
    /no x, y and z/,
  ),
  ply(
    'a place that is no number',
    square('ascii').map((b) => (b === 0x32 ? 0x78 : b)),
    /ends in|is no|no usable|claims|not a number|cannot/,
  ),
  ply('zeros', new Uint8Array(2000), /its first line is not "ply"/),
  ply('a web page', '<!doctype html><p>not found</p>', /its first line is not "ply"/),
  ply('a header without end', utf8('ply\nformat ascii 1.0\n' + 'comment x\n'.repeat(200_000)), /end_header/),
]

export const HARD_PLY: readonly HardFile[] = [
  ...indexTypes,
  ...countTypes,
  ...placeTypes,
  ...withMore,
  ...cuts,
  ...claims,
  ...headers,
]

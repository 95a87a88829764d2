import { encoded, joined, utf8, type HardFile } from './hard-file'

const NOTHING = /holds no usable polygon/
type Corner = readonly [number, number, number]
const ONE: readonly Corner[] = [
  [0, 0, 0],
  [2, 0, 0],
  [2, 1, 0],
]

const stl = (
  name: string,
  bytes: string | Uint8Array,
  want: HardFile['want'],
  more: Partial<HardFile> = {},
): HardFile => ({
  name,
  entry: 'a.stl',
  files: new Map([['a.stl', typeof bytes === 'string' ? utf8(bytes) : bytes]]),
  want,
  ...more,
})

/** A binary file; `claims` may lie about how many facets there are. */
function binary(
  facets: readonly (readonly Corner[])[],
  { header = '', claims = facets.length, attribute = 0, normal = [0, 0, 1] as Corner } = {},
): Uint8Array {
  const view = new DataView(new ArrayBuffer(84 + 50 * facets.length))
  new Uint8Array(view.buffer).set(utf8(header).subarray(0, 80))
  view.setUint32(80, claims, true)
  facets.forEach((facet, f) => {
    const at = 84 + 50 * f
    ;[normal, ...facet].forEach((corner, k) =>
      corner.forEach((v, axis) => view.setFloat32(at + 12 * k + 4 * axis, v, true)),
    )
    view.setUint16(at + 48, attribute, true)
  })
  return new Uint8Array(view.buffer)
}

const facet = (corners: readonly (readonly (number | string)[])[] = ONE, normal = '0 0 1') =>
  `  facet normal ${normal}\n    outer loop\n${corners.map((c) => `      vertex ${c.join(' ')}\n`).join('')}    endloop\n  endfacet\n`
const solid = (inside: string, name = ' kiosk') => `solid${name}\n${inside}endsolid${name}\n`

const tripled = (values: readonly string[]) =>
  values.map((v) =>
    stl(
      `the number ${v}`,
      solid(
        facet([
          ['0', '0', '0'],
          [v, '0', '0'],
          [v, v, '0'],
        ]),
      ),
      1,
      { size: [2, 2, 0] },
    ),
  )

const texts = (['\n', '\r\n', '\r'] as const).flatMap((end) =>
  (['utf8', 'utf8 mark', 'utf16le', 'utf16be'] as const).map((as) =>
    stl(
      `text whose lines end in ${JSON.stringify(end)}, ${as}`,
      encoded(solid(facet(), ' Möwe').replaceAll('\n', end), as),
      1,
      { size: [2, 1, 0] },
    ),
  ),
)

const headers = [
  '',
  'solid',
  'solid made by hand',
  'solid facet normal',
  'COLOR=',
  ' '.repeat(80),
  '\u0000\u0001',
].map((header) =>
  stl(
    `bytes whose header says ${JSON.stringify(header.slice(0, 12))}`,
    binary([ONE, ONE], { header }),
    1 + 1,
    { size: [2, 1, 0] },
  ),
)

const many = Array.from({ length: 500 }, (_, i): Corner[] => [
  [i, 0, 0],
  [i + 1, 0, 0],
  [i, 1, 0],
])

const cuts = [1, 40, 79, 83, 84, 100, 133].map((length) =>
  stl(
    `bytes cut to ${length}`,
    binary([ONE, ONE]).slice(0, length),
    /cut short|neither a text STL|no usable polygon/,
  ),
)
const claims = [3, 1000, 2 ** 31, 2 ** 32 - 1].map((n) =>
  stl(`a claim of ${n} facets in two`, binary([ONE, ONE], { claims: n }), /claims \d+ triangles but holds 2/),
)

export const HARD_STL: readonly HardFile[] = [
  ...texts,
  ...headers,
  ...tripled(['2', '+2', '2.', '2e0', '0.2E+1', '20e-1', '2.000000000000000001']),
  ...cuts,
  ...claims,
  stl('facets with colours', binary([ONE], { attribute: 0xffff }), 1),
  stl('facets whose normals are nonsense', binary([ONE], { normal: [NaN, Infinity, 0] }), 1),
  stl('facets whose normals point the other way', binary([ONE], { normal: [0, 0, -1] }), 1),
  stl('bytes behind the last facet', joined(binary([ONE]), new Uint8Array(7)), 1, { warns: ['bytes-left'] }),
  stl('more facets than it claims', binary([ONE, ONE, ONE], { claims: 1 }), 1),
  stl('five hundred facets', binary(many), 500, { size: [500, 1, 0] }),
  stl('a facet of no width beside a sound one', binary([[ONE[0], ONE[0], ONE[1]], ONE]), 1),
  stl('a corner that is nowhere', binary([[[NaN, 0, 0], ONE[1], ONE[2]], ONE]), 1),
  stl('a corner at infinity', binary([[[Infinity, 0, 0], ONE[1], ONE[2]], ONE]), 1),
  stl(
    'corners at the end of numbers',
    binary([
      [
        [3e38, 0, 0],
        [-3e38, 0, 0],
        [0, 3e38, 0],
      ],
    ]),
    1,
  ),
  stl('no facet at all, in bytes', binary([]), NOTHING),
  stl('text in capitals', solid(facet()).toUpperCase(), 1),
  stl('text without a name', solid(facet(), ''), 1),
  stl('text whose name has blanks', solid(facet(), ' the old kiosk'), 1),
  stl('two solids', solid(facet(), ' a') + solid(facet(), ' b'), 2),
  stl('two solids of one name', solid(facet(), ' a') + solid(facet(), ' a'), 2),
  stl('no endsolid', `solid a\n${facet()}`, 1),
  stl('tabs for blanks', solid(facet()).replaceAll(' ', '\t'), 1),
  stl('blank lines', solid(facet()).replaceAll('\n', '\n\n'), 1),
  stl('blanks before the first word', `   \n  ${solid(facet())}`, 1),
  stl('remarks between', solid(`; a remark\n${facet()}`), 1),
  stl('normals that are no numbers', solid(facet(ONE, 'nan -nan(ind) inf')), 1),
  stl('facets without normals', solid(facet().replace(' normal 0 0 1', '')), 1),
  stl('a facet of four corners', solid(facet([...ONE, [0, 1, 0]])), 1),
  stl('a facet of two corners beside a sound one', solid(facet(ONE.slice(0, 2)) + facet()), 1),
  stl('a corner of letters', solid(facet([['x', 'y', 'z'], ...ONE.slice(1)]) + facet()), 1),
  stl('a corner of two numbers', solid(facet([[0, 0], ...ONE.slice(1)]) + facet()), 1),
  stl('the file ends in a facet', `solid a\n${facet()}${facet().slice(0, 60)}`, 1, { warns: ['cut-short'] }),
  stl(
    'a facet outside any solid',
    `# solid facet\n${facet()}`,
    /neither a text STL|outside any solid|cut short/,
  ),
  stl('a solid without a facet', solid(''), /no usable polygon|cut short|neither/),
  stl('the word solid alone', 'solid', /neither a text STL|no usable polygon/),
  stl('nothing', '', /the file is empty/),
  stl('zeros', new Uint8Array(84), NOTHING),
  stl('a web page', `<!doctype html>${'<p>not found</p>'.repeat(20)}`, /claims|neither/),
  stl('a line a megabyte long', solid(`${'x'.repeat(1_000_000)}\n${facet()}`), 1),
]

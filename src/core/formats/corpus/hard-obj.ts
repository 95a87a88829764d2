import { encoded, utf8, type HardFile } from './hard-file'

const SQUARE = 'v 0 0 0\nv 2 0 0\nv 2 1 0\nv 0 1 0\n'
const NOTHING = /holds no usable polygon/

const obj = (
  name: string,
  text: string | Uint8Array,
  want: HardFile['want'],
  more: Partial<HardFile> & { beside?: Record<string, string> } = {},
): HardFile => {
  const { beside = {}, ...rest } = more
  const bytes = typeof text === 'string' ? utf8(text) : text
  const files = new Map([['a.obj', bytes], ...Object.entries(beside).map(([n, t]) => [n, utf8(t)] as const)])
  return { name, entry: 'a.obj', files, want, ...rest }
}

const ring = (count: number) =>
  Array.from({ length: count }, (_, i) => {
    const angle = (2 * Math.PI * i) / count
    return `v ${Math.cos(angle)} ${Math.sin(angle)} 0`
  }).join('\n')
const upTo = (count: number) => Array.from({ length: count }, (_, i) => i + 1).join(' ')

const endings = (['\n', '\r\n', '\r'] as const).flatMap((end) =>
  (['utf8', 'utf8 mark', 'utf16le', 'utf16be'] as const).flatMap((as) =>
    (as.startsWith('utf16') ? [true, false] : [true]).map((mark) => {
      const text = `# Möwe\n${SQUARE}o Möwe am Kai\nf 1 2 3 4\n`.replaceAll('\n', end)
      return obj(
        `lines that end in ${JSON.stringify(end)}, ${as}${mark ? '' : ' without a mark'}`,
        encoded(text, as, mark),
        1,
        { size: [2, 1, 0] },
      )
    }),
  ),
)

/** One file for each way to write the same square. */
const corners = [
  'f 1 2 3 4',
  'f -4 -3 -2 -1',
  'f 1/1 2/1 3/1 4/1',
  'f 1//1 2//1 3//1 4//1',
  'f 1/1/1 2/1/1 3/1/1 4/1/1',
  'f -4/-1/-1 -3/-1/-1 -2/-1/-1 -1/-1/-1',
  'f 1/ 2/ 3/ 4/',
  'f 1/9 2/9 3/9 4/9',
  'f 1//7 2//7 3//7 4//7',
  'f\t1\t2\t3\t4',
  '   f   1   2   3   4   ',
  'f 1 2 \\\n3 4',
  'f 1 2 \\  \n 3 \\\r\n4',
  'f 1 2 3 4 # the wall',
  'F 1 2 3 4\nf 1 2 3 4',
].map((face) =>
  obj(`the face "${face.replaceAll('\n', '⏎')}"`, `${SQUARE}vt 0.5 0.5\nvn 0 0 1\n${face}\n`, 1, {
    size: [2, 1, 0],
  }),
)

const numbers = [
  '1',
  '+1',
  '1.',
  '1.0',
  '1e0',
  '1E+0',
  '10e-1',
  '.1e1',
  '0001',
  '1.000000000000000000001',
].map((one) =>
  obj(`the number ${one}`, `v 0 0 0\nv ${one} 0 0\nv ${one} ${one} 0\nf 1 2 3\n`, 1, { size: [1, 1, 0] }),
)

export const HARD_OBJ: readonly HardFile[] = [
  ...endings,
  ...corners,
  ...numbers,
  obj('a pentagon', `${ring(5)}\nf ${upTo(5)}\n`, 1),
  obj('a polygon with a dent', 'v 0 0 0\nv 4 0 0\nv 4 4 0\nv 2 1 0\nv 0 4 0\nf 1 2 3 4 5\n', 1, {
    size: [4, 4, 0],
  }),
  obj('a polygon of ten thousand sides', `${ring(10_000)}\nf ${upTo(10_000)}\n`, 1),
  obj('no line end at the end', `${SQUARE}f 1 2 3 4`, 1),
  obj('blank lines and blanks', `\n\n   \n${SQUARE}\t\n\nf 1 2 3 4\n   `, 1),
  obj('vertex colours', 'v 0 0 0 1 0 0\nv 1 0 0 0 1 0\nv 0 1 0 0 0 1\nf 1 2 3\n', 1),
  obj('vertex weights', 'v 0 0 0 1\nv 1 0 0 1\nv 0 1 0 1\nf 1 2 3\n', 1),
  obj('texture coordinates of one and of three numbers', `${SQUARE}vt 0.5\nvt 0 1 0\nf 1/1 2/2 3/1 4/2\n`, 1),
  obj('a normal of length 0', `${SQUARE}vn 0 0 0\nf 1//1 2//1 3//1 4//1\n`, 1),
  obj('smoothing groups and off', `${SQUARE}s 1\nf 1 2 3\ns off\nf 1 3 4\ns 0\nf 1 2 4\n`, 3),
  obj('groups of several names, and of none', `${SQUARE}g a b c\nf 1 2 3\ng\nf 1 3 4\n`, 2),
  obj('two parts of one name', `${SQUARE}o a\nf 1 2 3\no a\nf 1 3 4\n`, 2),
  obj('a name of blanks', `${SQUARE}o    \nf 1 2 3 4\n`, 1),
  obj('a part without a face', `${SQUARE}o empty\no full\nf 1 2 3 4\n`, 1),
  obj(
    'five thousand groups',
    SQUARE + Array.from({ length: 5000 }, (_, i) => `g g${i}\nf 1 2 3\n`).join(''),
    5000,
  ),
  obj('vertices between the faces', 'v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\nv 0 0 1\nf -4 -3 -1\n', 2),
  obj('a face before its vertices', `f 1 2 3 4\n${SQUARE}f 1 2 3\n`, 1, { warns: ['index-out-of-range'] }),
  obj('commands that ask for other files', `call other.obj\ncsh -rm all\n${SQUARE}f 1 2 3 4\n`, 1),
  obj('free-form curves beside a face', `${SQUARE}cstype bezier\ncurv 0 1 1 2\nend\nf 1 2 3 4\n`, 1, {
    warns: ['free-form'],
  }),
  obj('lines and points beside a face', `${SQUARE}p 1\nl 1 2\nf 1 2 3 4\n`, 1, { warns: ['no-polygons'] }),
  obj('a library that was not given', `mtllib gone.mtl\n${SQUARE}usemtl x\nf 1 2 3 4\n`, 1, {
    warns: ['library-missing'],
  }),
  obj('a library with a picture that was not given', `mtllib m.mtl\n${SQUARE}usemtl x\nf 1 2 3 4\n`, 1, {
    beside: { 'm.mtl': 'newmtl x\nmap_Kd -s 1 1 1 -o 0 0 0 my picture.png\n' },
    warns: ['texture-missing'],
  }),
  obj(
    'a library in another letter case, in a folder',
    `mtllib .\\Sub\\M.MTL\n${SQUARE}usemtl x\nf 1 2 3 4\n`,
    1,
    {
      beside: { 'sub/m.mtl': 'newmtl x\nKd 1 0 0\n' },
    },
  ),
  obj('a library that is no library', `mtllib m.mtl\n${SQUARE}usemtl x\nf 1 2 3 4\n`, 1, {
    beside: { 'm.mtl': '\u0000\u0001\u0002 nonsense' },
  }),
  obj('a face of two corners beside a sound one', `${SQUARE}f 1 2\nf 1 2 3 4\n`, 1),
  obj('a face that names one vertex thrice', `${SQUARE}f 1 1 1\nf 1 2 3 4\n`, 1),
  obj('a face that names vertex 0', `${SQUARE}f 0 1 2\nf 1 2 3 4\n`, 1, { warns: ['index-out-of-range'] }),
  obj('a face that names vertex 99', `${SQUARE}f 1 2 99\nf 1 2 3 4\n`, 1, { warns: ['index-out-of-range'] }),
  obj('a face that names vertex −99', `${SQUARE}f -99 2 3\nf 1 2 3 4\n`, 1, {
    warns: ['index-out-of-range'],
  }),
  obj('an index beyond all numbers', `${SQUARE}f 1 2 99999999999999999999999\nf 1 2 3 4\n`, 1),
  obj('an index with a fraction', `${SQUARE}f 1.5 2 3\nf 1 2 3 4\n`, 1),
  obj('an index of letters', `${SQUARE}f one two three\nf 1 2 3 4\n`, 1),
  obj('control characters between the corners', `${SQUARE}f 1\u0001 2\u000e3\u001f4\n`, 1, {
    size: [2, 1, 0],
  }),
  obj('a face without corners', `${SQUARE}f\nf 1 2 3 4\n`, 1),
  obj('a vertex that is nowhere', `v nan 0 0\n${SQUARE}f 1 2 3\nf 2 3 4 5\n`, 1),
  obj('a vertex at infinity', `v inf 0 0\n${SQUARE}f 1 2 3\nf 2 3 4 5\n`, 1),
  obj('a number beyond all numbers', `v 1e999 0 0\n${SQUARE}f 1 2 3\nf 2 3 4 5\n`, 1),
  obj('a vertex with two numbers', `v 1 2\n${SQUARE}f 2 3 4 5\n`, 1),
  obj('a line a megabyte long', `# ${'x'.repeat(1_000_000)}\n${SQUARE}f 1 2 3 4\n`, 1),
  obj('nothing', '', /the file is empty/),
  obj('nothing but remarks', '# nothing\n# at all\n', NOTHING),
  obj('vertices alone', SQUARE, NOTHING),
  obj('only bad faces', `${SQUARE}f 1 2\nf 7 8 9\n`, NOTHING),
  obj('lines alone', `${SQUARE}l 1 2 3 4\n`, NOTHING),
  obj(
    'a picture by its first bytes',
    Uint8Array.of(0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13),
    /binary data/,
  ),
  obj('zeros', new Uint8Array(4096), /binary data|no usable polygon/),
  obj('a web page', '<!doctype html><html><body>not found</body></html>', NOTHING),
]

// Takes the families that type is set in from their packages, as WOFF files and a catalogue: `node scripts/fonts.mjs`.
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { deflateSync } from 'node:zlib'
import { root } from './ensure-installed.mjs'

/** Package, group it is offered in, and what of it: which axes of a variable one, or which weights; italics too where said. */
const FAMILIES = [
  ['@fontsource-variable/league-gothic', 'Narrow', { axes: 'wdth' }],
  ['@fontsource-variable/oswald', 'Narrow', { axes: 'wght' }],
  ['@fontsource/bebas-neue', 'Narrow', { weights: [400] }],
  ['@fontsource/barlow-condensed', 'Narrow', { weights: [400, 600] }],
  ['@fontsource/saira-extra-condensed', 'Narrow', { weights: [400, 600] }],
  ['@fontsource/anton', 'Heavy', { weights: [400] }],
  ['@fontsource/archivo-black', 'Heavy', { weights: [400] }],
  ['@fontsource/black-ops-one', 'Heavy', { weights: [400] }],
  ['@fontsource/lilita-one', 'Heavy', { weights: [400] }],
  ['@fontsource/bungee', 'Heavy', { weights: [400] }],
  ['@fontsource/bungee-inline', 'Engraved', { weights: [400] }],
  ['@fontsource/bungee-shade', 'Engraved', { weights: [400] }],
  ['@fontsource/monoton', 'Engraved', { weights: [400] }],
  ['@fontsource/cinzel-decorative', 'Engraved', { weights: [400, 700] }],
  ['@fontsource/pacifico', 'Script', { weights: [400] }],
  ['@fontsource/great-vibes', 'Script', { weights: [400] }],
  ['@fontsource-variable/caveat', 'Script', { axes: 'wght' }],
  ['@fontsource-variable/roboto-slab', 'Slab', { axes: 'wght' }],
  ['@fontsource/alfa-slab-one', 'Slab', { weights: [400] }],
  ['@fontsource/zilla-slab', 'Slab', { weights: [400, 600] }],
  ['@fontsource-variable/archivo', 'Grotesque', { axes: 'standard' }],
  ['@fontsource-variable/bricolage-grotesque', 'Grotesque', { axes: 'standard' }],
  ['@fontsource-variable/rubik', 'Grotesque', { axes: 'wght' }],
  ['@fontsource-variable/bodoni-moda', 'Display', { axes: 'standard', italic: true }],
  ['@fontsource-variable/playfair-display', 'Display', { axes: 'wght', italic: true }],
  ['@fontsource/cormorant-sc', 'Display', { weights: [400, 600] }],
  ['@fontsource/amiri', 'Display', { weights: [400] }],
  ['@fontsource/special-elite', 'Typewriter', { weights: [400] }],
  ['@fontsource/courier-prime', 'Typewriter', { weights: [400], italic: true }],
]

/** Characters are in a file of the first of these that has them. */
const SUBSETS = ['latin', 'latin-ext', 'hebrew', 'arabic']

const WEIGHTS = { 400: 'Regular', 600: 'Semibold', 700: 'Bold' }
const AXES = { wght: 'Weight', wdth: 'Width', opsz: 'Optical size' }

const asWoff = (file) => path.basename(file).replace(/woff2$/, 'woff')

/** A TrueType file as WOFF: its tables deflated one by one (W3C recommendation of version 1.0). */
function woffOf(font) {
  const count = font.readUInt16BE(4)
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 12 + 16 * i
    const [from, length] = [font.readUInt32BE(at + 8), font.readUInt32BE(at + 12)]
    const whole = font.subarray(from, from + length)
    const packed = deflateSync(whole, { level: 9 })
    return {
      tag: font.subarray(at, at + 4),
      sum: font.readUInt32BE(at + 4),
      length,
      data: packed.length < length ? packed : whole,
    }
  })
  const padded = (n) => (n + 3) & ~3
  const head = Buffer.alloc(44 + 20 * count)
  let at = head.length
  head.write('wOFF', 0, 'latin1')
  font.copy(head, 4, 0, 4)
  head.writeUInt16BE(count, 12)
  head.writeUInt32BE(
    tables.reduce((sum, { length }) => sum + padded(length), 12 + 16 * count),
    16,
  )
  tables.forEach(({ tag, sum, length, data }, i) => {
    tag.copy(head, 44 + 20 * i)
    ;[at, data.length, length, sum].forEach((value, k) => head.writeUInt32BE(value, 48 + 20 * i + 4 * k))
    at += padded(data.length)
  })
  head.writeUInt32BE(at, 8)
  const pieces = tables.map(({ data }) =>
    Buffer.concat([data, Buffer.alloc(padded(data.length) - data.length)]),
  )
  return Buffer.concat([head, ...pieces])
}

/** The catalogue, and which files of packages it is made of. */
export function catalogue() {
  const files = []
  const fonts = FAMILIES.flatMap(([name, group, { axes, weights, italic = false }]) => {
    const folder = path.join(root, 'node_modules', name)
    const about = JSON.parse(readFileSync(path.join(folder, 'metadata.json'), 'utf8'))
    const faces = (italic ? ['normal', 'italic'] : ['normal']).flatMap((slant) =>
      (axes ? [axes] : weights).map((of) => ({ slant, of })),
    )
    return faces.map(({ slant, of }) => {
      const own = SUBSETS.map((subset) => `${about.id}-${subset}-${of}-${slant}.woff2`).filter((file) =>
        existsSync(path.join(folder, 'files', file)),
      )
      files.push(...own.map((file) => path.join(folder, 'files', file)))
      const weight = axes ? '' : WEIGHTS[of]
      const style = [
        weight === 'Regular' && slant === 'italic' ? '' : weight,
        slant === 'italic' ? 'Italic' : '',
      ]
        .filter(Boolean)
        .join(' ')
      const moves = of === 'standard' ? Object.keys(AXES) : [of]
      return {
        id: [about.id, axes ? '' : of === 400 ? '' : of, slant === 'italic' ? 'italic' : '']
          .filter(Boolean)
          .join('-'),
        family: about.family,
        style: style || 'Regular',
        group,
        files: own.map(asWoff),
        axes: axes
          ? moves
              .filter((tag) => about.variable?.[tag])
              .map((tag) => {
                const axis = about.variable[tag]
                return { tag, label: AXES[tag], min: +axis.min, max: +axis.max, default: +axis.default }
              })
          : [],
        licence: about.license.type,
        attribution: about.license.attribution,
      }
    })
  })
  return { fonts, files }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const { fonts, files } = catalogue()
  const folder = path.join(root, 'public/fonts')
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const { default: decompress } = await import('woff2-encoder/decompress')
  for (const file of files)
    writeFileSync(path.join(folder, asWoff(file)), woffOf(Buffer.from(await decompress(readFileSync(file)))))
  writeFileSync(path.join(root, 'src/core/type/font-catalogue.json'), `${JSON.stringify(fonts, null, 2)}\n`)
  console.log(`${fonts.length} fonts in ${readdirSync(folder).length} files`)
}

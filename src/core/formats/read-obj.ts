import { plural } from '../plural'
import { UnreadableFileError } from '../errors'
import { GrowingBytes, GrowingFloats } from '../geometry/growing-array'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model } from '../geometry/polygon-mesh'
import { PLAIN_MATERIAL } from '../geometry/polygon-mesh'
import type { FileBundle } from './file-bundle'
import { baseName, FileFinder, stem } from './file-bundle'
import type { MtlMaterial } from './read-mtl'
import { readMtl } from './read-mtl'
import { decodeText, TextScanner, toUtf8 } from './text-bytes'

/** Keywords of free-form curves and surfaces, which are not read. */
const FREE_FORM = new Set(['curv', 'curv2', 'surf', 'cstype'])

/** A number of a face's corner as an index from 0; −1 for none, and what is out of reach stays so. */
const fromOne = (number: number, total: number): number =>
  Number.isNaN(number) ? -1 : number < 0 ? total + number : number - 1

/** One OBJ file as it is read. */
class ObjReading {
  private readonly builder = new MeshBuilder()
  private readonly scanner: TextScanner
  private readonly normals = new GrowingFloats()
  private readonly uvs = new GrowingFloats()
  /** Display values 0…255 of each vertex, once one has a colour. */
  private readonly colours = new GrowingBytes()
  private readonly library = new Map<string, MtlMaterial>()
  private readonly materialIndex = new Map<string, number>()
  private readonly textureIndex = new Map<string, number>()
  private readonly partIndex = new Map<string, number>()
  private objectName = ''
  private groupName = ''
  private part = -1
  private material = -1
  private smoothing: number | undefined
  private readonly corner: number[] = []
  private readonly cornerNormals: number[] = []
  private readonly cornerUvs: number[] = []
  private readonly cornerColours: number[] = []

  constructor(private readonly finder: FileFinder) {
    const bytes = toUtf8(finder.bytes)
    if (bytes.includes(0)) throw new UnreadableFileError(finder.fileName, 'holds binary data; an OBJ is text')
    this.scanner = new TextScanner(bytes)
  }

  read(): Model {
    const { scanner, builder } = this
    while (!scanner.atEnd) {
      if (scanner.skipBlanks()) this.statement(scanner.word())
      scanner.nextLine()
    }
    if (builder.faces === 0) throw new UnreadableFileError(this.finder.fileName, 'holds no usable polygon')
    return builder.finish(stem(this.finder.fileName))
  }

  private statement(keyword: string): void {
    const { scanner, builder } = this
    switch (keyword) {
      case 'v':
        this.vertex()
        break
      case 'vn':
        this.normals.push3(scanner.number(), scanner.number(), scanner.number())
        break
      case 'vt': {
        const u = scanner.number()
        const v = scanner.number()
        this.uvs.push2(u, Number.isNaN(v) ? 0 : v)
        break
      }
      case 'f':
        this.face()
        break
      case 'o':
        this.objectName = scanner.rest()
        this.groupName = ''
        this.part = -1
        break
      case 'g':
        this.groupName = scanner.rest()
        if (this.groupName === 'default' || this.groupName === 'off') this.groupName = ''
        this.part = -1
        break
      case 's': {
        const group = scanner.word()
        this.smoothing = group === 'off' || group === '' ? 0 : Math.max(0, Math.floor(Number(group) || 0))
        break
      }
      case 'usemtl':
        this.material = this.materialFor(scanner.rest())
        break
      case 'mtllib':
        this.loadLibrary(scanner.rest())
        break
      case 'l':
      case 'p':
        builder.warn(
          'no-polygons',
          null,
          (n) => `${plural(n, 'line or point', 'lines and points')} without a polygon; left out`,
        )
        break
      default:
        if (FREE_FORM.has(keyword))
          builder.warn(
            'free-form',
            null,
            (n) => `${plural(n, 'free-form curve or surface', 'free-form curves and surfaces')}; left out`,
          )
        break
    }
  }

  private vertex(): void {
    const { scanner, builder, colours } = this
    const { line } = scanner
    const x = scanner.number()
    const y = scanner.number()
    const z = scanner.number()
    if (Number.isNaN(z))
      builder.warn(
        'short-vertex',
        null,
        (n) => `${plural(n, 'vertex line')} with fewer than three numbers (first at line ${line})`,
      )
    builder.positions.push3(x, y, z)
    if (!scanner.skipBlanks()) return
    const more = [scanner.number(), scanner.number(), scanner.number(), scanner.number()]
    // Three more are a colour, four a weight and a colour; one alone is a weight.
    const rgb = Number.isNaN(more[3]) ? more.slice(0, 3) : more.slice(1)
    if (rgb.some((v) => !Number.isFinite(v))) return
    const unit = rgb.some((v) => v > 1) ? 1 : 255
    const before = builder.positions.length - 3
    while (colours.length < before) colours.push(255)
    for (const v of rgb) colours.push(Math.min(255, Math.max(0, Math.round(v * unit))))
  }

  private face(): void {
    const { scanner, builder, corner, cornerNormals, cornerUvs, cornerColours, normals, uvs, colours } = this
    if (this.part < 0) this.part = this.partFor()
    if (this.material < 0) this.material = this.materialFor('')
    const vertexTotal = builder.vertexTotal
    const normalTotal = normals.length / 3
    const uvTotal = uvs.length / 2
    corner.length = cornerNormals.length = cornerUvs.length = cornerColours.length = 0
    let allNormals = true
    let allUvs = true
    let coloured = false
    while (scanner.skipBlanks()) {
      const v = fromOne(scanner.numberHere(), vertexTotal)
      let t = -1
      let n = -1
      if (scanner.bytes[scanner.at] === 47) {
        scanner.at++
        if (scanner.bytes[scanner.at] !== 47) t = fromOne(scanner.numberHere(), uvTotal)
        if (scanner.bytes[scanner.at] === 47) {
          scanner.at++
          n = fromOne(scanner.numberHere(), normalTotal)
        }
        // What else hangs on the word belongs to nothing.
        while (scanner.bytes[scanner.at] > 32) scanner.at++
      }
      corner.push(v)
      if (t >= 0 && t < uvTotal) cornerUvs.push(uvs.at(2 * t), uvs.at(2 * t + 1))
      else allUvs = false
      if (n >= 0 && n < normalTotal)
        cornerNormals.push(normals.at(3 * n), normals.at(3 * n + 1), normals.at(3 * n + 2))
      else allNormals = false
      if (colours.length > 0) {
        const known = v >= 0 && 3 * v < colours.length
        if (known) coloured = true
        for (let k = 0; k < 3; k++) cornerColours.push(known ? colours.at(3 * v + k) : 255)
      }
    }
    builder.addFace(
      corner,
      allNormals && corner.length > 0 ? cornerNormals : null,
      allUvs && corner.length > 0 ? cornerUvs : null,
      this.part,
      this.material,
      { colours: coloured ? cornerColours : null, smoothing: this.smoothing },
    )
  }

  /** The part of the object and group of now; a group inside an object is its child. */
  private partFor(): number {
    const { objectName, groupName, partIndex, builder } = this
    const key = `${objectName}\n${groupName}`
    const known = partIndex.get(key)
    if (known !== undefined) return known
    let parent = -1
    if (objectName && groupName) {
      const parentKey = `${objectName}\n`
      const above = partIndex.get(parentKey)
      if (above !== undefined) parent = above
      else {
        parent = builder.parts.push({ name: objectName, parent: -1 }) - 1
        partIndex.set(parentKey, parent)
      }
    }
    const name = groupName || objectName || stem(this.finder.fileName)
    const index = builder.parts.push({ name, parent }) - 1
    partIndex.set(key, index)
    return index
  }

  private materialFor(name: string): number {
    const { builder, materialIndex } = this
    const known = materialIndex.get(name)
    if (known !== undefined) return known
    const found = this.library.get(name)
    if (!found && name)
      builder.warn('material-missing', null, () => `material ${name} is in no library given; grey used`)
    const material = found
      ? { ...found, texture: found.texture === null ? null : this.textureFor(found.texture) }
      : { ...PLAIN_MATERIAL, name: name || PLAIN_MATERIAL.name }
    const index = builder.materials.push(material) - 1
    materialIndex.set(name, index)
    return index
  }

  private textureFor(reference: string): number {
    const known = this.textureIndex.get(reference)
    if (known !== undefined) return known
    const bytes = this.finder.find(reference)
    const name = baseName(reference)
    if (!bytes)
      this.builder.warn(
        'texture-missing',
        null,
        () => `picture ${name} was not given; the plain colour is used`,
        1,
        name,
      )
    const index = this.builder.textures.push({ name, bytes: bytes && new Uint8Array(bytes) }) - 1
    this.textureIndex.set(reference, index)
    return index
  }

  private loadLibrary(text: string): void {
    // Names with spaces first, then several libraries on one line.
    const whole = this.finder.find(text)
    const names =
      whole || !text.split(/\s+/).some((name) => this.finder.find(name)) ? [text] : text.split(/\s+/)
    for (const reference of names) {
      const bytes = this.finder.find(reference)
      const name = baseName(reference)
      if (bytes) for (const [key, value] of readMtl(decodeText(bytes))) this.library.set(key, value)
      else
        this.builder.warn(
          'library-missing',
          null,
          () => `material library ${name} was not given; grey used`,
          1,
          name,
        )
    }
  }
}

/**
 * Reads a Wavefront OBJ. Polygons stay polygons; objects (`o`) and groups (`g`) become parts, a group inside an
 * object its child; `usemtl` gives materials, looked up in the `mtllib` files of the bundle; smoothing groups decide
 * where normals that the file leaves out are smooth.
 * @throws {UnreadableFileError} when the file holds no polygon.
 */
export function readObj(bundle: FileBundle, fileName: string): Model & { readonly files: string[] } {
  const finder = new FileFinder(bundle, fileName)
  const model = new ObjReading(finder).read()
  return { ...model, files: finder.used }
}

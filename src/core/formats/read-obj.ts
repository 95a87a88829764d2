import { strFromU8 } from 'fflate'
import { UnreadableFileError } from '../errors'
import { MeshBuilder } from '../geometry/mesh-builder'
import type { Model, ModelMaterial } from '../geometry/polygon-mesh'
import { linearToSrgb } from '../math/colour'
import type { FileBundle } from './file-bundle'
import { baseName, findFile, stem } from './file-bundle'

/** UTF-8 or UTF-16 bytes as text; a byte order mark decides. */
export function decodeText(bytes: Uint8Array): string {
  const little = bytes[0] === 0xff && bytes[1] === 0xfe
  const big = bytes[0] === 0xfe && bytes[1] === 0xff
  if (little || big) {
    const pieces: string[] = []
    const units: number[] = []
    for (let i = 2; i + 1 < bytes.length; i += 2) {
      units.push(little ? bytes[i] | (bytes[i + 1] << 8) : bytes[i + 1] | (bytes[i] << 8))
      if (units.length === 8192) pieces.push(String.fromCharCode(...units.splice(0)))
    }
    return pieces.join('') + String.fromCharCode(...units)
  }
  const skip = bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf ? 3 : 0
  return strFromU8(bytes.subarray(skip))
}

/** Calls `each` for every logical line: any line ending, `\` continues on the next line. */
function forEachLine(text: string, each: (line: string, lineNumber: number) => void): void {
  let start = 0
  let lineNumber = 1
  let held = ''
  for (let i = 0; i <= text.length; i++) {
    const code = i < text.length ? text.charCodeAt(i) : 10
    if (code !== 10 && code !== 13) continue
    const line = text.slice(start, i)
    if (code === 13 && text.charCodeAt(i + 1) === 10) i++
    start = i + 1
    const trimmed = line.trimEnd()
    if (trimmed.endsWith('\\')) held += trimmed.slice(0, -1) + ' '
    else {
      each(held + line, lineNumber)
      held = ''
    }
    lineNumber++
  }
  if (held) each(held, lineNumber)
}

/**
 * Reads a Wavefront MTL library: names and diffuse colours. Colours in MTL carry no encoding; they are taken as
 * linear light, as the exporters of the field write them.
 */
export function readMtl(text: string): Map<string, ModelMaterial> {
  const materials = new Map<string, ModelMaterial>()
  let current: string | null = null
  forEachLine(text, (raw) => {
    const line = raw.trim()
    const [keyword] = line.split(/\s+/, 1)
    const rest = line.slice(keyword.length).trim()
    if (keyword === 'newmtl') {
      current = rest || 'unnamed'
      materials.set(current, { name: current, baseColour: [0.8, 0.8, 0.8] })
    } else if (keyword === 'Kd' && current !== null) {
      const numbers = rest.split(/\s+/).map(Number)
      if (numbers.length >= 1 && numbers.every(Number.isFinite)) {
        const [r, g = r, b = r] = numbers
        const encode = (v: number) => linearToSrgb(Math.min(1, Math.max(0, v)))
        materials.set(current, { name: current, baseColour: [encode(r), encode(g), encode(b)] })
      }
    }
  })
  return materials
}

/**
 * Reads a Wavefront OBJ. Polygons stay polygons; objects (`o`) and groups (`g`) become parts, a group inside an
 * object its child; `usemtl` gives materials, looked up in the `mtllib` files of the bundle.
 * @throws {UnreadableFileError} when the file holds no polygon.
 */
export function readObj(bundle: FileBundle, fileName: string): Model {
  const bytes = findFile(bundle, fileName)
  if (!bytes) throw new UnreadableFileError(fileName, 'the file is not among those given')
  const text = decodeText(bytes)
  if (text.includes('\0')) throw new UnreadableFileError(fileName, 'holds binary data; an OBJ is text')

  const builder = new MeshBuilder()
  const normals: number[] = []
  const uvs: number[] = []
  const library = new Map<string, ModelMaterial>()
  const materialIndex = new Map<string, number>()
  const partIndex = new Map<string, number>()
  let objectName = ''
  let groupName = ''
  let part = -1
  let material = -1

  const partFor = (): number => {
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
    const index = builder.parts.push({ name: groupName || objectName || stem(fileName), parent }) - 1
    partIndex.set(key, index)
    return index
  }
  const materialFor = (name: string): number => {
    const known = materialIndex.get(name)
    if (known !== undefined) return known
    const found = library.get(name)
    if (!found && name) {
      builder.warn('material-missing', null, () => `material ${name} is in no library given; grey used`)
    }
    const index =
      builder.materials.push(found ?? { name: name || 'unnamed', baseColour: [0.8, 0.8, 0.8] }) - 1
    materialIndex.set(name, index)
    return index
  }

  const corner: number[] = []
  const cornerNormals: number[] = []
  const cornerUvs: number[] = []
  forEachLine(text, (raw, lineNumber) => {
    const hash = raw.indexOf('#')
    const line = (hash >= 0 ? raw.slice(0, hash) : raw).trim()
    if (!line) return
    const words = line.split(/\s+/)
    switch (words[0]) {
      case 'v':
        if (words.length < 4) {
          builder.warn(
            'short-vertex',
            null,
            (n) => `${n} vertex line(s) with fewer than three numbers (first at line ${lineNumber})`,
          )
        }
        builder.positions.push3(Number(words[1]), Number(words[2]), Number(words[3]))
        break
      case 'vn':
        normals.push(Number(words[1]), Number(words[2]), Number(words[3]))
        break
      case 'vt':
        uvs.push(Number(words[1]), Number(words[2] ?? 0))
        break
      case 'o':
        objectName = line.slice(1).trim()
        groupName = ''
        part = -1
        break
      case 'g':
        groupName = line.slice(1).trim()
        if (groupName === 'default' || groupName === 'off') groupName = ''
        part = -1
        break
      case 'usemtl':
        material = materialFor(line.slice(6).trim())
        break
      case 'mtllib': {
        const names = [line.slice(6).trim(), ...words.slice(1)]
        const found = names.map((name) => findFile(bundle, name)).find((hit) => hit !== null)
        if (found) for (const [name, value] of readMtl(decodeText(found))) library.set(name, value)
        else
          builder.warn(
            'library-missing',
            null,
            () => `material library ${baseName(names[0])} was not given; grey used`,
          )
        break
      }
      case 'f': {
        if (part < 0) part = partFor()
        if (material < 0) material = materialFor('')
        const vertexTotal = builder.positions.length / 3
        const normalTotal = normals.length / 3
        const uvTotal = uvs.length / 2
        corner.length = cornerNormals.length = cornerUvs.length = 0
        let allNormals = true
        let allUvs = true
        for (let i = 1; i < words.length; i++) {
          const fields = words[i].split('/')
          const v = Number(fields[0])
          corner.push(v < 0 ? vertexTotal + v : v - 1)
          const t = fields[1] ? Number(fields[1]) : NaN
          const ti = t < 0 ? uvTotal + t : t - 1
          if (ti >= 0 && ti < uvTotal) cornerUvs.push(uvs[2 * ti], uvs[2 * ti + 1])
          else allUvs = false
          const n = fields[2] ? Number(fields[2]) : NaN
          const ni = n < 0 ? normalTotal + n : n - 1
          if (ni >= 0 && ni < normalTotal)
            cornerNormals.push(normals[3 * ni], normals[3 * ni + 1], normals[3 * ni + 2])
          else allNormals = false
        }
        builder.addFace(corner, allNormals ? cornerNormals : null, allUvs ? cornerUvs : null, part, material)
        break
      }
      default:
        break
    }
  })
  if (builder.faces === 0) throw new UnreadableFileError(fileName, 'holds no usable polygon')
  return builder.finish(stem(fileName))
}

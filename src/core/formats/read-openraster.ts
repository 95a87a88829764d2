import { parseXml, XmlElement, XmlError } from '@rgrove/parse-xml'
import { UnreadableFileError } from '../errors'
import { MAX_PICTURE_SIDE } from '../scene/camera'
import { BLEND_MODES, type BlendMode } from '../sheet/blend-modes'
import { OPERATION } from './openraster'
import { readPng } from './png'
import { decodeText } from './text-bytes'
import { MODEL_ZIP, ZipFile, type ByteSource } from './zip-file'

/** An OpenRaster file as it was read: layers and stacks of them, by the specification of 2018 (version 0.0.6). */
interface ReadCommon {
  readonly name: string
  readonly mode: BlendMode
  readonly opacity: number
  readonly visible: boolean
}
export interface ReadLayer extends ReadCommon {
  /** A PNG, as it stands in the file, and what it measures. */
  readonly png: Uint8Array
  readonly width: number
  readonly height: number
  /** Where its upper left corner lies in the picture, in pixels. */
  readonly x: number
  readonly y: number
}
export interface ReadStack extends ReadCommon {
  readonly isolated: boolean
  /** Back first. */
  readonly children: readonly ReadNode[]
}
export type ReadNode = ReadLayer | ReadStack
export interface OpenRasterFile {
  readonly width: number
  readonly height: number
  /** Back first. */
  readonly nodes: readonly ReadNode[]
  /** What of it could not be taken over as it is, in words. */
  readonly notes: readonly string[]
}

const MODES: ReadonlyMap<string, BlendMode> = new Map(
  BLEND_MODES.flatMap((mode) => {
    const name = OPERATION[mode]
    return name ? [[name, mode] as const] : []
  }),
)

/** Layers and stacks, and stacks within stacks: what an illustrator makes stays far below. */
const MOST_NODES = 2000
const DEEPEST = 32

/**
 * Reads an OpenRaster file.
 * @param name for what is said of it.
 * @param onProgress told how much of it is read, 0…1.
 * @throws {UnreadableFileError} naming the file, and the part and the reason.
 */
export async function readOpenRaster(
  source: ByteSource,
  name: string,
  onProgress: (share01: number) => void = () => undefined,
): Promise<OpenRasterFile> {
  const zip = await ZipFile.open(source, name, MODEL_ZIP)
  const refuse = (reason: string): never => {
    throw new UnreadableFileError(name, reason)
  }
  if (zip.sizeOf('mimetype') > 64) refuse('mimetype is too long')
  const kind = decodeText(await zip.read('mimetype')).trim()
  if (kind !== 'image/openraster') refuse(`its mimetype is "${kind}", not image/openraster`)
  if (zip.sizeOf('stack.xml') > 4 * 2 ** 20) refuse('stack.xml is too long')
  return new StackReader(zip, name, onProgress).read(await zip.read('stack.xml'))
}

class StackReader {
  private readonly notes: string[] = []
  private nodes = 0
  private layers = 0
  private total = 1

  constructor(
    private readonly zip: ZipFile,
    private readonly file: string,
    private readonly onProgress: (share01: number) => void,
  ) {}

  async read(xml: Uint8Array): Promise<OpenRasterFile> {
    let image: XmlElement | null = null
    try {
      image = parseXml(decodeText(xml)).root
    } catch (cause) {
      const why =
        cause instanceof XmlError ? `line ${cause.line}: ${firstLine(cause.message)}` : 'it is no text'
      throw new UnreadableFileError(this.file, `stack.xml: ${why}`, { cause })
    }
    if (image?.name !== 'image') return this.refuse('stack.xml: it has no image')
    const [width, height] = [this.side(image, 'w'), this.side(image, 'h')]
    const stack = elements(image).find(({ name }) => name === 'stack')
    if (!stack) return this.refuse('stack.xml: it has no stack')
    this.total = Math.max(1, this.zip.names.filter((path) => path.startsWith('data/')).length)
    const nodes = await this.children(stack, 0, 0, 0)
    return { width, height, nodes, notes: this.notes }
  }

  /** @param x, y where the stack lies. @param depth of stacks around it. */
  private async children(stack: XmlElement, x: number, y: number, depth: number): Promise<ReadNode[]> {
    if (depth > DEEPEST) this.refuse(`stack.xml: stacks lie more than ${DEEPEST} deep in each other`)
    const found: ReadNode[] = []
    for (const element of elements(stack)) {
      const { name } = element
      if (name !== 'layer' && name !== 'stack') {
        this.notes.push(`A ${name} is left out: layers and stacks are what is read`)
        continue
      }
      if (++this.nodes > MOST_NODES) this.refuse(`stack.xml: it names more than ${MOST_NODES} layers`)
      const common = this.common(element, name === 'layer' ? `Layer ${this.nodes}` : `Stack ${this.nodes}`)
      const [left, top] = [x + this.whole(element, 'x'), y + this.whole(element, 'y')]
      if (name === 'stack') {
        const children = await this.children(element, left, top, depth + 1)
        found.push({ ...common, isolated: element.attributes.isolation !== 'auto', children })
      } else {
        const layer = await this.layer(element, common, left, top)
        if (layer) found.push(layer)
      }
    }
    // The foremost is listed first.
    return found.reverse()
  }

  private async layer(
    { attributes }: XmlElement,
    common: ReadCommon,
    x: number,
    y: number,
  ): Promise<ReadLayer | null> {
    const { src } = attributes
    if (!src) return this.refuse(`stack.xml: ${common.name} names no picture`)
    if (!this.zip.has(src)) return this.refuse(`${src}, the picture of ${common.name}, is missing from it`)
    this.onProgress(Math.min(1, this.layers++ / this.total))
    const png = await this.zip.read(src)
    if (!isPng(png)) {
      this.notes.push(`${common.name} is left out: ${src} is no PNG`)
      return null
    }
    try {
      const { width, height } = readPng(png, src)
      return { ...common, png, width, height, x, y }
    } catch (cause) {
      const why = cause instanceof Error ? cause.message : String(cause)
      throw new UnreadableFileError(this.file, `${src}: ${why}`, { cause })
    }
  }

  private common({ attributes }: XmlElement, unnamed: string): ReadCommon {
    const name = attributes.name?.trim() || unnamed
    const operation = attributes['composite-op'] ?? 'svg:src-over'
    const mode = MODES.get(operation)
    if (!mode) this.notes.push(`${name} is blended normally: ${operation} is not known here`)
    const opacity = attributes.opacity === undefined ? 1 : Number(attributes.opacity)
    if (!(opacity >= 0 && opacity <= 1))
      return this.refuse(`stack.xml: the opacity of ${name} is "${attributes.opacity}", not 0 to 1`)
    return { name, mode: mode ?? 'normal', opacity, visible: attributes.visibility !== 'hidden' }
  }

  private side({ attributes }: XmlElement, key: 'w' | 'h'): number {
    const side = Number(attributes[key])
    if (!Number.isInteger(side) || side < 1 || side > MAX_PICTURE_SIDE)
      return this.refuse(
        `stack.xml: ${key} of the image is "${attributes[key] ?? ''}", not a whole number from 1 to ${MAX_PICTURE_SIDE}`,
      )
    return side
  }

  private whole({ name, attributes }: XmlElement, key: 'x' | 'y'): number {
    const value = attributes[key] === undefined ? 0 : Number(attributes[key])
    if (!Number.isFinite(value) || Math.abs(value) > 1e6)
      return this.refuse(`stack.xml: ${key} of the ${name} ${attributes.name ?? ''} is "${attributes[key]}"`)
    return Math.round(value)
  }

  private refuse(reason: string): never {
    throw new UnreadableFileError(this.file, reason)
  }
}

const elements = (parent: XmlElement): XmlElement[] =>
  parent.children.filter((child) => child instanceof XmlElement)
const isPng = (bytes: Uint8Array): boolean =>
  [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a].every((v, i) => bytes[i] === v)
const firstLine = (text: string): string => text.split('\n')[0].replace(/ \(line.*$/, '')

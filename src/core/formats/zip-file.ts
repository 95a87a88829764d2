import { configure, Reader, Uint8ArrayWriter, ZipReader, type FileEntry } from '@zip.js/zip.js'
import { UnreadableFileError } from '../errors'

/**
 * The one reader of zips. Everything is judged from the directory (APPNOTE.TXT 4.3.12) before a byte is unfolded: how many
 * entries, their names, what they claim to unfold to, each for itself and all together. Entries are then read one by one.
 */

configure({ useWebWorkers: false })

/** Bytes to be read in pieces: a file on disk or in the browser is never held whole. */
export interface ByteSource {
  readonly size: number
  /** At most `length` bytes from `start`; fewer at the end. */
  readonly read: (start: number, length: number) => Promise<Uint8Array>
}

export const bytesSource = (bytes: Uint8Array): ByteSource => ({
  size: bytes.length,
  read: async (start, length) => bytes.subarray(start, start + length),
})

/** A file as browsers and Node hand it out in pieces: a Blob. */
interface SlicedFile {
  readonly size: number
  slice(start: number, end: number): { arrayBuffer(): Promise<ArrayBuffer> }
}

export const fileSource = (file: SlicedFile): ByteSource => ({
  size: file.size,
  read: async (start, length) => new Uint8Array(await file.slice(start, start + length).arrayBuffer()),
})

export interface ZipLimits {
  readonly mostEntries: number
  /** Bytes all entries unfold to. */
  readonly mostBytes: number
}

/** What a tab can hold beside the meshes made of it. */
export const MODEL_ZIP: ZipLimits = { mostEntries: 20_000, mostBytes: 3 * 2 ** 30 }
/** Project archives are streamed: more than 4 GB is no obstacle. */
export const ARCHIVE_ZIP: ZipLimits = { mostEntries: 20_000, mostBytes: 256 * 2 ** 30 }

/** Deflate makes at most this much of a byte (RFC 1951: 258 bytes of one pair of bits). */
const MOST_PER_BYTE = 1032
/**
 * What honest files unfold to: text and meshes come to a tenth, an empty mask to a two-hundredth. A file beyond this that is
 * also large is one made to fill the memory.
 */
const MOST_RATIO = 250
const SMALL = 64 * 2 ** 20

const readable = (bytes: number): string =>
  bytes < 1e6
    ? `${Math.ceil(bytes / 1e3)} kB`
    : bytes < 1e9
      ? `${(bytes / 1e6).toFixed(1)} MB`
      : `${(bytes / 1e9).toFixed(1)} GB`

class SourceReader extends Reader<ByteSource> {
  constructor(private readonly source: ByteSource) {
    super(source)
    this.size = source.size
  }
  override readUint8Array(start: number, length: number): Promise<Uint8Array> {
    return this.source.read(start, length)
  }
}

/** Whether a path would leave the folder it is unfolded into, or is none that every system takes. */
const isUnsafe = (name: string): boolean =>
  /(^|[\\/])\.\.([\\/]|$)/.test(name) || /^([a-z]:|[\\/])/i.test(name) || name.includes('\0')

/** @throws {UnreadableFileError} where an entry cannot be what it claims. */
function judge(entries: readonly FileEntry[], size: number, fileName: string, limits: ZipLimits): void {
  const refuse = (reason: string): never => {
    throw new UnreadableFileError(fileName, reason)
  }
  if (entries.length > limits.mostEntries)
    refuse(
      `it holds ${entries.length.toLocaleString('en')} files; ${limits.mostEntries.toLocaleString('en')} are the most`,
    )
  const seen = new Set<string>()
  let total = 0
  for (const { filename, compressedSize, uncompressedSize, encrypted } of entries) {
    if (isUnsafe(filename)) refuse(`${filename} is a path that leads out of the zip`)
    if (seen.has(filename)) refuse(`${filename} is in it twice`)
    seen.add(filename)
    if (encrypted) refuse(`${filename} is locked with a password`)
    if (compressedSize > size || uncompressedSize > MOST_PER_BYTE * (compressedSize + 1))
      refuse(`${filename} claims a size that does not fit the file`)
    if (uncompressedSize > SMALL && uncompressedSize > MOST_RATIO * compressedSize)
      refuse(
        `${filename} would unfold from ${readable(compressedSize)} to ${readable(uncompressedSize)}: no honest file does`,
      )
    total += uncompressedSize
  }
  if (total > limits.mostBytes)
    refuse(`it would unfold to ${readable(total)}; ${readable(limits.mostBytes)} are the most`)
  if (total > SMALL && total > MOST_RATIO * size)
    refuse(`it would unfold from ${readable(size)} to ${readable(total)}: no honest file does`)
}

export interface ZipReadOptions {
  /** Told how much of the entry is unfolded, 0…1. */
  readonly onProgress?: (share01: number) => void
}

/** A zip whose directory was found sound. */
export class ZipFile {
  private constructor(
    private readonly entries: ReadonlyMap<string, FileEntry>,
    private readonly fileName: string,
  ) {}

  /**
   * Reads and judges the directory; nothing is unfolded.
   * @throws {UnreadableFileError} naming the file, and the entry and the reason.
   */
  static async open(source: ByteSource, fileName: string, limits: ZipLimits): Promise<ZipFile> {
    const entries: FileEntry[] = []
    try {
      const reader = new ZipReader(new SourceReader(source), {
        filenameValidation: 'tolerant',
        checkOverlappingEntry: true,
      })
      for await (const entry of reader.getEntriesGenerator()) {
        if (!entry.directory) entries.push(entry)
        if (entries.length > limits.mostEntries) break
      }
    } catch (cause) {
      throw new UnreadableFileError(fileName, 'it is not a zip file, or is damaged', { cause })
    }
    judge(entries, source.size, fileName, limits)
    return new ZipFile(new Map(entries.map((entry) => [entry.filename, entry])), fileName)
  }

  get names(): string[] {
    return [...this.entries.keys()]
  }
  has(name: string): boolean {
    return this.entries.has(name)
  }
  /** Bytes an entry unfolds to; 0 for one that is not there. */
  sizeOf(name: string): number {
    return this.entries.get(name)?.uncompressedSize ?? 0
  }

  /**
   * Unfolds one entry. @throws {UnreadableFileError} where it is missing, damaged or not as long as it claimed.
   */
  async read(name: string, options: ZipReadOptions = {}): Promise<Uint8Array> {
    const entry = this.entries.get(name)
    if (!entry) throw new UnreadableFileError(this.fileName, `${name} is missing from it`)
    const { onProgress } = options
    try {
      return await entry.getData(new Uint8ArrayWriter(), {
        checkSignature: true,
        checkOverlappingEntry: true,
        onprogress: (done, total) => {
          onProgress?.(total > 0 ? done / total : 1)
          return undefined
        },
      })
    } catch (cause) {
      throw new UnreadableFileError(this.fileName, `${name} is damaged`, { cause })
    }
  }

  /** Unfolds the entries that are wanted, by path. @throws as {@link read}. */
  async readAll(
    wanted: (path: string) => boolean,
    options: ZipReadOptions = {},
  ): Promise<Map<string, Uint8Array>> {
    const names = this.names.filter(wanted)
    const total = names.reduce((sum, name) => sum + this.sizeOf(name), 0) || 1
    const files = new Map<string, Uint8Array>()
    let before = 0
    for (const name of names) {
      const size = this.sizeOf(name)
      const own = {
        ...options,
        onProgress: (share: number) => options.onProgress?.((before + share * size) / total),
      }
      files.set(name, await this.read(name, own))
      before += size
    }
    return files
  }
}

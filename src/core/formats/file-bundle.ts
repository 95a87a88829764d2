import { UnreadableFileError } from '../errors'

/** The files a user gave together, by path. References between files are resolved among these and nowhere else. */
export type FileBundle = ReadonlyMap<string, Uint8Array>

export const baseName = (path: string): string => path.split(/[\\/]/).pop() ?? path
export const stem = (path: string): string => baseName(path).replace(/\.[^.]+$/, '')
export const extension = (path: string): string => /\.([^.]+)$/.exec(baseName(path))?.[1].toLowerCase() ?? ''

/** Folder names of a path, `.` and `..` worked out, without what stands before the first of them. */
function steps(path: string): string[] {
  const out: string[] = []
  for (const step of path.split(/[\\/]+/)) {
    if (step === '..') out.pop()
    else if (step !== '' && step !== '.' && !/^[a-z]:$/i.test(step)) out.push(step)
  }
  return out
}

const decoded = (reference: string): string => {
  try {
    return decodeURIComponent(reference)
  } catch {
    return reference
  }
}

/**
 * The path in the bundle that a reference means: beside the file that names it, else the file of that name whose folders
 * agree longest, in any letter case. Null when no file of that name was given.
 * @param from path of the file that holds the reference; '' for none.
 */
export function resolveReference(bundle: FileBundle, reference: string, from = ''): string | null {
  if (bundle.has(reference) && from === '') return reference
  const folder = steps(from).slice(0, -1)
  for (const text of new Set([reference, decoded(reference)])) {
    const beside = steps([...folder, text].join('/'))
      .join('/')
      .toLowerCase()
    for (const path of bundle.keys()) if (steps(path).join('/').toLowerCase() === beside) return path
  }
  const wanted = steps(decoded(reference).toLowerCase()).reverse()
  let best: string | null = null
  let bestAgreed = 0
  for (const path of bundle.keys()) {
    const own = steps(path.toLowerCase()).reverse()
    let agreed = 0
    while (agreed < wanted.length && agreed < own.length && wanted[agreed] === own[agreed]) agreed++
    if (agreed > bestAgreed) {
      best = path
      bestAgreed = agreed
    }
  }
  return best
}

/** The file of that path, or of that base name in any letter case; null when it was not given. */
export function findFile(bundle: FileBundle, reference: string): Uint8Array | null {
  const path = resolveReference(bundle, reference)
  return path === null ? null : (bundle.get(path) ?? null)
}

/** Finds what one model's file names, and keeps count of what was used. */
export class FileFinder {
  private readonly found = new Set<string>()
  readonly bytes: Uint8Array

  /** @throws {UnreadableFileError} when the model's own file is not among those given. */
  constructor(
    private readonly bundle: FileBundle,
    readonly fileName: string,
  ) {
    const path = bundle.has(fileName) ? fileName : resolveReference(bundle, fileName)
    const bytes = path === null ? undefined : bundle.get(path)
    if (path === null || !bytes) throw new UnreadableFileError(fileName, 'the file is not among those given')
    this.found.add(path)
    this.bytes = bytes
  }

  find(reference: string): Uint8Array | null {
    const path = resolveReference(this.bundle, reference, this.fileName)
    const bytes = path === null ? undefined : this.bundle.get(path)
    if (path === null || !bytes) return null
    this.found.add(path)
    return bytes
  }

  /** Paths of the files that were used, the model's own first. */
  get used(): string[] {
    return [...this.found]
  }
}

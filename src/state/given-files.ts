/** A file a person gave, with its path inside the folder it came in. */
export interface GivenFile {
  readonly path: string
  readonly file: File
}

/** Folders within folders beyond this are not looked into: they are a knot of links, not a model. */
const DEEPEST = 32
const MOST_FILES = 20_000

const fileOf = (entry: FileSystemFileEntry): Promise<File> =>
  new Promise((resolve, reject) => entry.file(resolve, reject))

/** All entries of a folder; a browser hands them out a hundred at a time. */
async function entriesOf(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader()
  const all: FileSystemEntry[] = []
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    )
    if (some.length === 0) return all
    all.push(...some)
  }
}

async function gather(entry: FileSystemEntry, depth: number, into: GivenFile[]): Promise<void> {
  if (into.length >= MOST_FILES || depth > DEEPEST) return
  if (entry.isFile) {
    const file = await fileOf(entry as FileSystemFileEntry)
    into.push({ path: entry.fullPath.replace(/^\//, '') || file.name, file })
  } else if (entry.isDirectory) {
    for (const inner of await entriesOf(entry as FileSystemDirectoryEntry))
      await gather(inner, depth + 1, into)
  }
}

/** Files picked in a dialog: a folder's keep their paths. */
export const pickedFiles = (list: Iterable<File>): GivenFile[] =>
  Array.from(list, (file) => ({ path: file.webkitRelativePath || file.name, file }))

/** Files and folders that were dropped, folders looked through. Must be called while the drop is handled. */
export function droppedFiles(data: DataTransfer): Promise<GivenFile[]> {
  const entries = [...data.items].flatMap((item) => (item.kind === 'file' ? [item.webkitGetAsEntry()] : []))
  const plain = pickedFiles(data.files)
  const found: GivenFile[] = []
  return (async () => {
    // Where a browser knows no folders the plain list is all there is.
    if (entries.length === 0 || entries.includes(null)) return plain
    for (const entry of entries) if (entry) await gather(entry, 0, found)
    return found
  })()
}

/** The files a user gave together, by name. References between files are resolved among these and nowhere else. */
export type FileBundle = ReadonlyMap<string, Uint8Array>

export const baseName = (path: string): string => path.split(/[\\/]/).pop() ?? path
export const stem = (path: string): string => baseName(path).replace(/\.[^.]+$/, '')
export const extension = (path: string): string => /\.([^.]+)$/.exec(baseName(path))?.[1].toLowerCase() ?? ''

/** The file of that path, or of that base name in any letter case; null when it was not given. */
export function findFile(bundle: FileBundle, path: string): Uint8Array | null {
  const exact = bundle.get(path)
  if (exact) return exact
  const wanted = baseName(path).toLowerCase()
  for (const [name, bytes] of bundle) if (baseName(name).toLowerCase() === wanted) return bytes
  return null
}

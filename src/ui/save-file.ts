/** Hands bytes to the person as a file of that name. */
export function saveFile(name: string, bytes: Uint8Array, type = 'application/octet-stream'): void {
  const url = URL.createObjectURL(new Blob([new Uint8Array(bytes)], { type }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 30_000)
}

/** A name that any file system takes. */
export const safeName = (text: string): string => text.replace(/[<>:"/\\|?*]+/g, '_').trim() || 'untitled'

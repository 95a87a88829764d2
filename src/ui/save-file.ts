/** Hands bytes to the person as a file of that name. */
export function saveFile(name: string, content: Uint8Array | Blob, type?: string): void {
  const isBlob = content instanceof Blob
  const own = type ?? (isBlob ? content.type : 'application/octet-stream')
  const blob = new Blob([isBlob ? content : new Uint8Array(content)], { type: own })
  const url = URL.createObjectURL(blob)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 30_000)
}

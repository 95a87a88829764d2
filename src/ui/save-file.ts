/** Hands bytes to the person as a file of that name. */
export function saveFile(name: string, content: Uint8Array | Blob, type = 'application/octet-stream'): void {
  const blob = content instanceof Blob ? content : new Blob([new Uint8Array(content)], { type })
  const url = URL.createObjectURL(blob)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 30_000)
}

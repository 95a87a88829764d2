/** Names that Windows keeps for devices, with or without an ending. */
const DEVICES = /^(con|prn|aux|nul|com\d|lpt\d)(\.|$)/i
/** Separators, what some system forbids, control characters, and marks that change the direction of what follows. */
const FORBIDDEN = /[<>:"/\\|?*\u0000-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069]+/gu
/** What file systems hold of one name, in bytes, with room for an ending and for a partial file's mark. */
const MOST_BYTES = 200

const byteLength = (text: string): number => {
  let bytes = 0
  for (const sign of text) {
    const point = sign.codePointAt(0) ?? 0
    bytes += point < 0x80 ? 1 : point < 0x800 ? 2 : point < 0x10000 ? 3 : 4
  }
  return bytes
}

/** A name as one file of any system can bear it: no folders, nothing reserved, never empty. */
export function safeFileName(text: string, otherwise = 'untitled'): string {
  let name = text
    .normalize('NFC')
    .replace(FORBIDDEN, '_')
    .replace(/^[\s.]+/, '')
    .replace(/[\s.]+$/, '')
  while (byteLength(name) > MOST_BYTES) name = [...name].slice(0, -1).join('')
  if (name === '') return otherwise
  return DEVICES.test(name) ? `_${name}` : name
}

// Embeds the package's WebP decoder, so that pages, workers and Node read it without fetching: `node scripts/webp.mjs`.
import { readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { createRequire } from 'node:module'
import { fileURLToPath } from 'node:url'
import { root } from './ensure-installed.mjs'

/** The module's text, from the package that is installed. */
export function webpModule() {
  const file = createRequire(import.meta.url).resolve('@jsquash/webp/codec/dec/webp_dec.wasm')
  return `// Written by scripts/webp.mjs from @jsquash/webp: not to be changed by hand.

/** WebAssembly of the WebP decoder, base64. */
export const WEBP_DECODER =
  '${readFileSync(file).toString('base64')}'
`
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const out = path.join(root, 'src/engine/webp-binary.ts')
  writeFileSync(out, webpModule())
  console.log(`written: ${path.relative(root, out)}`)
}

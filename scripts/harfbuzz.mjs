// Embeds the package's shaping engine, so that pages, workers and Node have it at once: `node scripts/harfbuzz.mjs`.
import { readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'
import { deflateRawSync } from 'node:zlib'
import { root } from './ensure-installed.mjs'

/** A program's text, from the package that is installed. */
const packed = (name) =>
  deflateRawSync(readFileSync(path.join(root, 'node_modules/harfbuzzjs/dist', name)), { level: 9 }).toString(
    'base64',
  )

export const programs = {
  'shaper-binary.ts': () => `// Written by scripts/harfbuzz.mjs from harfbuzzjs: not to be changed by hand.

/** WebAssembly of the shaping engine, deflated, base64. */
export const SHAPER =
  '${packed('harfbuzz.wasm')}'
`,
  'subsetter-binary.ts': () => `// Written by scripts/harfbuzz.mjs from harfbuzzjs: not to be changed by hand.

/** WebAssembly of what cuts fonts down to the glyphs that are used, deflated, base64. */
export const SUBSETTER =
  '${packed('harfbuzz-subset.wasm')}'
`,
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  for (const [name, text] of Object.entries(programs)) {
    const out = path.join(root, 'src/core/type', name)
    writeFileSync(out, text())
    console.log(`written: ${path.relative(root, out)}`)
  }
}

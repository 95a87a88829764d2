// Compiles the ray kernel (kernel/, AssemblyScript) to WebAssembly and embeds it as base64 in a module of the core: once
// for memory that is shared between workers, once for memory that is not.
//   node scripts/kernel.mjs          writes src/core/trace/kernel-binary.ts
import { writeFileSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = path.resolve(import.meta.dirname, '..')
const OPTIONS = ['--runtime', 'stub', '--noAssert', '--importMemory', '--enable', 'simd', '-O3']
/** Pages of 64 KiB a shared memory may grow to; declared on both sides, so that they agree. */
export const MOST_PAGES = 32768

async function compile(options) {
  const { default: asc } = await import('assemblyscript/asc')
  const outputs = new Map()
  const { error, stderr } = await asc.main(
    ['kernel/index.ts', '--baseDir', root, '-o', 'kernel.wasm', ...OPTIONS, ...options],
    { writeFile: (name, contents) => void outputs.set(name, contents) },
  )
  if (error) throw new Error(`the kernel does not compile: ${stderr.toString()}`)
  const binary = Buffer.from(outputs.get('kernel.wasm'))
  // Static data would be written over the tree that a memory already holds.
  if (holdsData(binary)) throw new Error('the kernel must not hold static data: no tables, no strings')
  return binary.toString('base64')
}

/** Whether a WebAssembly binary has a data section (11): sections are a number, a length and as many bytes. */
function holdsData(binary) {
  for (let at = 8; at < binary.length;) {
    const section = binary[at++]
    let length = 0
    for (let shift = 0; ; shift += 7) {
      const byte = binary[at++]
      length += (byte & 127) * 2 ** shift
      if (byte < 128) break
    }
    if (section === 11 && length > 1) return true
    at += length
  }
  return false
}

/** The text of the module. */
export async function kernelModule() {
  const plain = await compile(['--initialMemory', '1'])
  const shared = await compile([
    '--initialMemory',
    '1',
    '--sharedMemory',
    '--maximumMemory',
    String(MOST_PAGES),
    '--enable',
    'threads',
  ])
  return `// Written by scripts/kernel.mjs from kernel/: not to be changed by hand.

/** Pages of 64 KiB that a shared memory may grow to. */
export const MOST_PAGES = ${MOST_PAGES}

/** WebAssembly over plain memory, base64. */
export const PLAIN_KERNEL =
  '${plain}'

/** WebAssembly over shared memory, base64. */
export const SHARED_KERNEL =
  '${shared}'
`
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const out = path.join(root, 'src/core/trace/kernel-binary.ts')
  writeFileSync(out, await kernelModule())
  console.log(`written: ${path.relative(root, out)}`)
}

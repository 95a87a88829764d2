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
  return Buffer.from(outputs.get('kernel.wasm')).toString('base64')
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

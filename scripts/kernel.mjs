// Compiles the kernels (kernel/, AssemblyScript) to WebAssembly and embeds each as base64 in a module of the core: once for
// memory that is shared between workers, once for memory that is not.
//   node scripts/kernel.mjs          writes the modules named in KERNELS
import { createHash } from 'node:crypto'
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { fileURLToPath } from 'node:url'

const root = path.resolve(import.meta.dirname, '..')
const OPTIONS = ['--runtime', 'stub', '--noAssert', '--importMemory', '--enable', 'simd', '-O3']
/** Pages of 64 KiB a shared memory may grow to; declared on both sides, so that they agree. */
const MOST_PAGES = 32768

/** What traces rays, and what blends pictures: two programs, each over memories of its own. */
export const KERNELS = [
  { entry: 'kernel/index.ts', written: 'src/core/trace/kernel-binary.ts' },
  { entry: 'kernel/picture/index.ts', written: 'src/core/picture/picture-binary.ts' },
]

/**
 * The doc tag `@inline` becomes the compiler's own decorator, which the formatter cannot read where it stands.
 */
const decorate = (source) =>
  source.replace(
    /(\/\*\*(?:[^*]|\*(?!\/))*@inline(?:[^*]|\*(?!\/))*\*\/\n)(export )?(?=function|const)/g,
    '$1@inline $2',
  )

async function compile(entry, options) {
  const { default: asc } = await import('assemblyscript/asc')
  const outputs = new Map()
  const { error, stderr } = await asc.main(
    [entry, '--baseDir', root, '-o', 'kernel.wasm', ...OPTIONS, ...options],
    {
      readFile(name, baseDir) {
        try {
          return decorate(readFileSync(path.resolve(baseDir, name), 'utf8'))
        } catch {
          return null
        }
      },
      writeFile: (name, contents) => void outputs.set(name, contents),
    },
  )
  if (error) throw new Error(`${entry} does not compile: ${stderr.toString()}`)
  const binary = Buffer.from(outputs.get('kernel.wasm'))
  // Static data would be written over what a memory already holds.
  if (holdsData(binary)) throw new Error(`${entry} must not hold static data: no tables, no strings`)
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

const hashOf = (...texts) => {
  const hash = createHash('sha256')
  for (const text of texts) hash.update(`${text.length} ${text}`)
  return hash.digest('hex').slice(0, 24)
}

/** A hash of all that a compiled kernel is made from: sources, options, compiler. */
function sourcesHash() {
  const folder = path.join(root, 'kernel')
  const files = readdirSync(folder, { recursive: true }).filter((name) => name.endsWith('.ts'))
  const sources = files.sort().flatMap((name) => [name, readFileSync(path.join(folder, name), 'utf8')])
  const { version } = JSON.parse(
    readFileSync(path.join(root, 'node_modules/assemblyscript/package.json'), 'utf8'),
  )
  return hashOf(version, OPTIONS.join(' '), String(MOST_PAGES), ...sources)
}

/** What is wrong with the module of a kernel: made from other sources, or changed by hand. Null where nothing is. */
export function kernelProblem({ written }) {
  const [head, ...rest] = readFileSync(path.join(root, written), 'utf8').split('\n')
  const [sources, own] = head.replace('// ', '').split(' ')
  if (own !== hashOf(rest.join('\n'))) return `${written} is not what scripts/kernel.mjs wrote`
  if (sources !== sourcesHash()) return `${written} is older than kernel/: run node scripts/kernel.mjs`
  return null
}

/** The text of the module of one of the kernels. Its first line tells what it was made from, and what follows. */
async function kernelModule({ entry }) {
  const plain = await compile(entry, ['--initialMemory', '1'])
  const shared = await compile(entry, [
    '--initialMemory',
    '1',
    '--sharedMemory',
    '--maximumMemory',
    String(MOST_PAGES),
    '--enable',
    'threads',
  ])
  const text = `// Written by scripts/kernel.mjs from ${path.dirname(entry)}/: not to be changed by hand.

/** Pages of 64 KiB that a shared memory may grow to. */
export const MOST_PAGES = ${MOST_PAGES}

/** WebAssembly over plain memory, base64. */
export const PLAIN_KERNEL =
  '${plain}'

/** WebAssembly over shared memory, base64. */
export const SHARED_KERNEL =
  '${shared}'
`
  return `// ${sourcesHash()} ${hashOf(text)}\n${text}`
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  for (const kernel of KERNELS) {
    writeFileSync(path.join(root, kernel.written), await kernelModule(kernel))
    console.log(`written: ${kernel.written}`)
  }
}

import { inflateSync } from 'fflate'
import { fromBase64, type LinearMemory } from './linear-memory'

/** A library that was compiled to WebAssembly with a memory and a table of its own. */
export interface Library<Exports> {
  readonly call: Exports
  readonly memory: LinearMemory
  /** Makes a function of this side callable from the other. @param types of its arguments, `i` or `f` (32 bits each); it returns nothing. */
  readonly callback: (types: string, run: (...args: number[]) => void) => number
}

interface Table {
  readonly length: number
  grow(by: number): number
  set(index: number, value: unknown): void
}
interface LibraryHost {
  readonly Module: new (bytes: Uint8Array) => object
  readonly Instance: new (
    module: object,
    imports: Readonly<Record<string, Readonly<Record<string, unknown>>>>,
  ) => { readonly exports: Readonly<Record<string, unknown>> }
}
const host = (globalThis as unknown as { readonly WebAssembly: LibraryHost }).WebAssembly

const PAGE = 65536

/** Begins a library. @param packed WebAssembly, deflated, base64. */
export function openLibrary<Exports>(packed: string): Library<Exports> {
  const held: { memory: LinearMemory | null } = { memory: null }
  const stop = (): never => {
    throw new Error('a library stopped')
  }
  const nothing = () => 0
  const program = new host.Module(inflateSync(fromBase64(packed)))
  const { exports } = new host.Instance(program, {
    wasi_snapshot_preview1: { proc_exit: stop },
    env: {
      _abort_js: stop,
      _emscripten_runtime_keepalive_clear: nothing,
      _setitimer_js: nothing,
      emscripten_resize_heap: (bytes: number): number => {
        const { memory } = held
        if (!memory) return 0
        try {
          memory.grow(Math.max(0, Math.ceil(((bytes >>> 0) - memory.buffer.byteLength) / PAGE)))
          return 1
        } catch {
          return 0
        }
      },
    },
  })
  const memory = exports.memory as LinearMemory
  held.memory = memory
  const table = exports.__indirect_function_table as Table
  const begin = (exports.__wasm_call_ctors ?? exports._initialize) as () => void
  begin()
  return {
    call: exports as Exports,
    memory,
    callback: (types, run) => {
      const index = table.grow(1)
      table.set(index, typedFunction(types, run))
      return index
    },
  }
}

/** A function with the types that a table of functions asks for: a program of one import that it exports again (WebAssembly 1.0, section 5). */
function typedFunction(types: string, run: (...args: number[]) => void): unknown {
  const params = [...types].map((type) => (type === 'f' ? 0x7d : 0x7f))
  const type = [0x01, 0x60, params.length, ...params, 0x00]
  const bytes = Uint8Array.from([
    ...[0, 0x61, 0x73, 0x6d, 1, 0, 0, 0],
    ...[0x01, type.length, ...type],
    ...[0x02, 0x07, 0x01, 0x01, 0x65, 0x01, 0x66, 0x00, 0x00],
    ...[0x07, 0x05, 0x01, 0x01, 0x66, 0x00, 0x00],
  ])
  return new host.Instance(new host.Module(bytes), { e: { f: run } }).exports.f
}

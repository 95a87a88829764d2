import { expect, it } from 'vitest'
import { release } from './release'

it('empties arrays that are one’s own, once for each memory, and leaves shared memory alone', () => {
  const memory = new ArrayBuffer(64)
  const views = [new Uint8Array(memory, 0, 32), new Uint16Array(memory, 32, 16)]
  const shared = new Float32Array(new SharedArrayBuffer(16))
  release([...views, shared, null, 'text'])
  const canRelease = 'transfer' in ArrayBuffer.prototype
  expect(memory.byteLength).toBe(canRelease ? 0 : 64)
  expect(views.map(({ length }) => length)).toEqual(canRelease ? [0, 0] : [32, 16])
  expect(shared).toHaveLength(4)
})

import { afterEach, describe, expect, it, vi } from 'vitest'
import { amountText, ensureRoom } from './storage-room'

const browserWith = (estimate: () => Promise<StorageEstimate>) =>
  vi.stubGlobal('navigator', { storage: { estimate } })

afterEach(() => vi.unstubAllGlobals())

describe('room in the storage', () => {
  it('is asked for before large work, and told of in words where there is too little', async () => {
    browserWith(() => Promise.resolve({ quota: 2e9, usage: 1.25e9 }))
    await expect(ensureRoom('Rendering 3 passes', 7.5e8)).resolves.toBeUndefined()
    await expect(ensureRoom('Rendering 3 passes', 1.2e9)).rejects.toThrow(
      'Rendering 3 passes takes about 1.2 GB of storage, and the browser has 750 MB left',
    )
  })
  it('is never below nothing', async () => {
    browserWith(() => Promise.resolve({ quota: 1e9, usage: 1.5e9 }))
    await expect(ensureRoom('This pass', 5e7)).rejects.toThrow(
      'takes about 50 MB of storage, and the browser has nothing left',
    )
  })
  it('is taken for granted for what is small, and where the browser does not tell', async () => {
    const estimate = vi.fn(() => Promise.resolve({ quota: 1, usage: 1 }))
    browserWith(estimate)
    await ensureRoom('This pass', 1e6)
    expect(estimate).not.toHaveBeenCalled()
    browserWith(() => Promise.reject(new Error('not here')))
    await ensureRoom('This pass', 1e9)
    browserWith(() => Promise.resolve({}))
    await ensureRoom('This pass', 1e9)
    vi.stubGlobal('navigator', {})
    await ensureRoom('This pass', 1e9)
  })
  it('is given in the larger unit from a thousand on', () => {
    expect([1, 1.6e6, 9.99e8, 1e9, 2.34e10].map(amountText)).toEqual([
      '1 MB',
      '2 MB',
      '999 MB',
      '1.0 GB',
      '23.4 GB',
    ])
  })
})

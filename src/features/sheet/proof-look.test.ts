import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { ProofLook, proofScale, scaledSize } from './proof-look'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

it('is at the scale that is seen, never finer than the sheet, and never nothing', () => {
  expect(proofScale(0.664)).toBe(0.664)
  expect(proofScale(2)).toBe(1)
  expect(proofScale(0.001)).toBe(1 / 16)
  expect(scaledSize({ width: 1200, height: 750 }, 0.664)).toEqual({ width: 797, height: 498 })
  expect(scaledSize({ width: 3, height: 3 }, 1 / 16)).toEqual({ width: 1, height: 1 })
})

it('follows what is seen at once, and another scale when the zoom rests', () => {
  const look = new ProofLook()
  const all = { x: 0, y: 0, width: 1, height: 1 }
  look.take({ zoom: 0.5, seen: all })
  expect(look.store.getState()).toEqual({ scale: 0.5, seen: all })
  const part = { x: 0.25, y: 0.25, width: 0.5, height: 0.5 }
  look.take({ zoom: 0.8, seen: part })
  look.take({ zoom: 1, seen: part })
  expect(look.store.getState()).toEqual({ scale: 0.5, seen: part })
  vi.advanceTimersByTime(500)
  expect(look.store.getState().scale).toBe(1)
  // Back before it rested: nothing changes.
  const told = vi.fn()
  look.store.subscribe(told)
  look.take({ zoom: 0.9, seen: part })
  look.take({ zoom: 1, seen: part })
  vi.advanceTimersByTime(500)
  expect(look.store.getState().scale).toBe(1)
  expect(told).toHaveBeenCalledTimes(2)
})

import 'fake-indexeddb/auto'
import { expect, it } from 'vitest'
import { CancelledError } from '@/core/errors'
import { longWork, useLongWork } from './long-work'
import { undo } from './project-store'

const seen = () => useLongWork.getState().work

it('is seen while it lasts, with how far it is, one at a time', async () => {
  let letGo = (): void => undefined
  const given = longWork('Pressing', async (_, tell) => {
    tell(0.25)
    await new Promise<void>((resolve) => (letGo = resolve))
    return 7
  })
  expect(seen()).toMatchObject({ label: 'Pressing', share01: 0.25 })
  expect(await longWork('Opening', () => Promise.resolve(1))).toBeNull()
  letGo()
  expect(await given).toBe(7)
  expect(seen()).toBeNull()
})

it('ends without a word when it is cancelled, by its button or by undo', async () => {
  const waiting = (signal: AbortSignal) =>
    new Promise<number>((_, reject) =>
      signal.addEventListener('abort', () => reject(new CancelledError('It'))),
    )
  const first = longWork('Pressing', waiting)
  seen()?.cancel()
  expect(await first).toBeNull()
  const second = longWork('Pressing', waiting)
  expect(undo()).toBe('pressing')
  expect(await second).toBeNull()
  expect(undo()).toBeNull()
})

it('passes on what went wrong, and is over', async () => {
  await expect(longWork('Opening', () => Promise.reject(new Error('no room')))).rejects.toThrow('no room')
  expect(seen()).toBeNull()
})

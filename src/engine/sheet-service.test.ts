import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { CancelledError } from '@/core/errors'
import { SheetService } from './sheet-service'

const terminate = vi.fn()
beforeEach(() =>
  vi.stubGlobal(
    'Worker',
    class {
      addEventListener = () => undefined
      postMessage = () => undefined
      terminate = terminate
    },
  ),
)
afterEach(() => void vi.unstubAllGlobals())

const SHEET = { width: 4, height: 4, fit: 'extend' } as const

it('ends what waits when it is closed, and all that is asked afterwards', async () => {
  const service = new SheetService()
  const waiting = service.pick('shot', SHEET, 0, 0)
  service.close()
  expect(terminate).toHaveBeenCalledOnce()
  await expect(waiting).rejects.toBeInstanceOf(CancelledError)
  await expect(service.pick('shot', SHEET, 0, 0)).rejects.toBeInstanceOf(CancelledError)
})

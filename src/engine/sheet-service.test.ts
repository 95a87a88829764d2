import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { CancelledError } from '@/core/errors'
import { SheetService } from './sheet-service'

const terminate = vi.fn()
beforeEach(() =>
  vi.stubGlobal(
    'Worker',
    class {
      postMessage = () => undefined
      terminate = terminate
    },
  ),
)
afterEach(() => void vi.unstubAllGlobals())

it('ends what waits when it is closed, and all that is asked afterwards', async () => {
  const service = new SheetService()
  const waiting = service.pick('shot', 0, 0)
  service.close()
  expect(terminate).toHaveBeenCalledOnce()
  await expect(waiting).rejects.toBeInstanceOf(CancelledError)
  await expect(service.pick('shot', 0, 0)).rejects.toBeInstanceOf(CancelledError)
})

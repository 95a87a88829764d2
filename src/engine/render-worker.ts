import type { WorkerChannel } from '@/core/workers/worker-channel'
import type { FromWorker, ToWorker } from './messages'

/** One render worker, as it is asked. */
export type RenderWorker = WorkerChannel<ToWorker, FromWorker>

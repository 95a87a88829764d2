import { parentPort, workerData } from 'node:worker_threads'
import { treeFromTransfer, type RayTreeTransfer } from '@/core/trace/ray-tree'
import { TraceKernel } from '@/core/trace/trace-kernel'
import { traceBatches } from './trace-batches'

/** Traces the batches it was given as often as it is told, over a tree shared with others, and tells when it is done. */
const { transfer, batches } = workerData as { transfer: RayTreeTransfer; batches: Float32Array[] }
const kernel = TraceKernel.over(treeFromTransfer(transfer))
parentPort?.on('message', (rounds: number) => {
  for (let round = 0; round < rounds; round++) traceBatches(kernel, batches, true)
  parentPort?.postMessage('done')
})

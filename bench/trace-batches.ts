import { RAY_NUMBERS, type TraceKernel } from '@/core/trace/trace-kernel'

/** Traces whole batches of rays. @param any whether anything is in the way; else the closest hit. */
export function traceBatches(kernel: TraceKernel, batches: readonly Float32Array[], any: boolean): void {
  for (const batch of batches) {
    kernel.rays.set(batch)
    const count = batch.length / RAY_NUMBERS
    if (any) kernel.traceAny(count, 1)
    else kernel.traceClosest(count, 1)
  }
}

import { useEffect, useState } from 'react'
import type { MeshReport } from '@/core/geometry/mesh-report'
import { useMeshStore } from './mesh-store'

/** What was found in a model; neither while it is being looked for. */
export interface KnownReport {
  readonly report: MeshReport | null
  /** Why it cannot be told, in words. */
  readonly problem: string | null
}
const NOTHING: KnownReport = { report: null, problem: null }

/** The report of a model, which follows the model itself. */
export function useMeshReport(modelId: string): KnownReport {
  const coming = useMeshStore((s) => s.models[modelId]?.report)
  const [found, setFound] = useState<{ of: Promise<MeshReport>; known: KnownReport } | null>(null)
  useEffect(() => {
    let isWanted = true
    const take = (of: Promise<MeshReport>, known: KnownReport) => isWanted && setFound({ of, known })
    coming?.then(
      (report) => take(coming, { report, problem: null }),
      (error: unknown) =>
        take(coming, { report: null, problem: error instanceof Error ? error.message : String(error) }),
    )
    return () => {
      isWanted = false
    }
  }, [coming])
  return found && found.of === coming ? found.known : NOTHING
}

import { useEffect, useState } from 'react'
import type { MeshReport } from '@/core/geometry/mesh-report'
import { useMeshStore } from './mesh-store'

/** What was found in a model, null while it is being looked for or where it cannot be told. */
export function useMeshReport(modelId: string): MeshReport | null {
  const coming = useMeshStore((s) => s.models[modelId]?.report)
  const [found, setFound] = useState<{ of: Promise<MeshReport>; report: MeshReport } | null>(null)
  useEffect(() => {
    let isWanted = true
    coming?.then(
      (report) => isWanted && setFound({ of: coming, report }),
      () => undefined,
    )
    return () => {
      isWanted = false
    }
  }, [coming])
  return found && found.of === coming ? found.report : null
}

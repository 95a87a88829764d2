'use client'

import { useMemo } from 'react'
import { activePasses, activeSheet } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { addTableFile } from './layer-actions'
import { besideSheets } from '@/state/use-beside-sheets'
import type { ParamSources } from '@/ui/fields/param-sources'
import { useSame } from '@/ui/use-same'

/** What parameters of the sheet at work can be chosen from; the same object for as long as nothing of it changes. */
export function useParamSources(project: Project, without: string): ParamSources {
  const beside = besideSheets(project)
  const { nodes } = activeSheet(project)
  const names = useSame(Object.values(nodes).flatMap(({ id, name }) => (id === without ? [] : [id, name])))
  return useMemo(
    () => ({
      passes: (kind: string) =>
        activePasses(beside)
          .filter((pass) => pass.kind === kind && pass.rendered)
          .map(({ id, name }) => ({ id, name })),
      pictures: beside.pictures.map(({ id, name }) => ({ id, name })),
      addTable: addTableFile,
      layers: names.flatMap((id, i) => (i % 2 === 0 ? [{ id: String(id), name: String(names[i + 1]) }] : [])),
    }),
    [beside, names],
  )
}

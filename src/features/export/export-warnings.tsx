'use client'

import Link from 'next/link'
import { passKind } from '@/core/passes/registry'
import { layersOf } from '@/core/sheet/sheet-tree'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { maskProblem } from '@/state/mask-source'
import { outOfRegister } from '@/state/pass-status'
import { sheetSize } from '@/state/sheet-actions'
import { layerProblem, useSourceProblems } from '@/state/source-problems'

/** What looks forgotten in a sheet that is about to be exported. */
export function ExportWarnings({ project }: { readonly project: Project }) {
  const sheet = activeSheet(project)
  const layers = layersOf(sheet)
  const stale = outOfRegister(project)
  const used = new Set(
    layers.flatMap((l) => (l.visible && l.content.kind === 'pass' ? [l.content.passId] : [])),
  )
  const staleUsed = stale.filter((p) => used.has(p.id))
  const drafts = project.passes.filter(
    (p) => used.has(p.id) && p.rendered?.quality === 'draft' && passKind(p.kind).isSampled,
  )
  const lost = layers.flatMap((layer) => {
    const why = layer.visible ? maskProblem(project, layer) : null
    return why ? [{ id: layer.id, name: layer.name, why }] : []
  })
  const broken = useSourceProblems()
  const unseen = layers.flatMap((layer) => {
    const { id, name, visible, content } = layer
    const why = !visible
      ? undefined
      : content.kind === 'unreadable'
        ? content.why
        : layerProblem(layer, broken)
    return why === undefined ? [] : [{ id, name, why }]
  })
  const { frame } = activeShot(project)
  const differs = sheetSize(project) === 'another shape'
  const isGood = !(
    staleUsed.length > 0 ||
    drafts.length > 0 ||
    layers.length === 0 ||
    lost.length > 0 ||
    unseen.length > 0 ||
    differs
  )
  if (isGood) return null
  return (
    <div className="problem" style={{ marginBottom: 12 }}>
      <b>Before you export</b>
      <ul>
        {layers.length === 0 && (
          <li>
            The sheet has no layers yet: its file would be an empty page.{' '}
            {project.models.length === 0 ? (
              <Link href={`/project/${project.id}/models`}>Begin with a model</Link>
            ) : project.passes.some(({ rendered }) => rendered) ? (
              <Link href={`/project/${project.id}/sheet`}>Hang layers on it</Link>
            ) : (
              <Link href={`/project/${project.id}/passes`}>Render passes for it</Link>
            )}
            .{project.models.length > 0 && ' Lines, passes and parts below need none.'}
          </li>
        )}
        {unseen.map(({ id, name, why }) => (
          <li key={id}>
            {name} shows nothing: {why}.
          </li>
        ))}
        {lost.map(({ id, name, why }) => (
          <li key={id}>
            The mask of {name}: {why}.
          </li>
        ))}
        {differs && (
          <li>
            The sheet is {sheet.width} × {sheet.height}, its shot {frame.width} × {frame.height}: pictures are{' '}
            {sheet.fit === 'crop' ? 'cropped' : 'shown whole'}.
          </li>
        )}
        {staleUsed.length > 0 && (
          <li>
            {staleUsed.length} of the passes shown {staleUsed.length === 1 ? 'is' : 'are'} out of register.{' '}
            <Link href={`/project/${project.id}/passes`}>Render again</Link>
          </li>
        )}
        {drafts.length > 0 && (
          <li>
            {drafts.length} of the passes shown {drafts.length === 1 ? 'is a draft' : 'are drafts'}.{' '}
            <Link href={`/project/${project.id}/passes`}>Render well</Link>
          </li>
        )}
      </ul>
    </div>
  )
}

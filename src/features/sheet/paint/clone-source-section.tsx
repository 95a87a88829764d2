'use client'

import { useEffect, useRef, useState } from 'react'
import { newLayer, wholePicture } from '@/core/sheet/new-layer'
import { laidOut } from '@/core/sheet/picture-box'
import { insertNode } from '@/core/sheet/sheet-tree'
import { activeSheet } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { loadFile } from '@/data/project-repository'
import { changeProject, useProjectStore } from '@/state/project-store'
import { askSheet, sheetService } from '@/state/sheet-sync'
import { SwitchRow } from '@/ui/switch-row'
import { SelectRow } from '@/ui/select-row'
import { setPaint, usePaint } from './paint-store'

/** Width of the small picture of what is cloned from, in pixels of the screen. */
const WIDE = 258

/** Hangs a reference as a hidden layer, whole, to be painted from. @returns the layer's id. @throws {Error} naming the file. */
async function hangReference(referenceId: string): Promise<string> {
  const { project } = useProjectStore.getState()
  const reference = project?.references.find(({ id }) => id === referenceId)
  if (!project || !reference) throw new Error('That reference is gone.')
  const { name, fileId } = reference
  const size = await sheetService().checkPicture(name, await loadFile(project.id, fileId))
  const picture = project.pictures.find((own) => own.fileId === fileId) ?? { id: newId(), name, fileId }
  const layer = newLayer({
    id: newId(),
    name: name.replace(/\.[^.]+$/, ''),
    visible: false,
    content: { ...wholePicture(picture.id), ...laidOut(size, activeSheet(project), 'whole') },
  })
  changeProject(`hang ${name} to paint from`, (draft) => {
    if (!draft.pictures.some(({ id }) => id === picture.id)) draft.pictures.push(picture)
    insertNode(activeSheet(draft), layer, { parent: null, index: 0 })
  })
  return layer.id
}

/** What cloning paints from: what is seen, a layer, or a reference; and where of it. */
export function CloneSourceSection() {
  const { cloneFrom, cloneOf, cloneKeeps } = usePaint()
  const project = useProjectStore((s) => s.project)
  const [problem, setProblem] = useState<string | null>(null)
  if (!project) return null
  const sheet = activeSheet(project)
  const layers = Object.values(sheet.nodes).filter(({ content }) => content.kind !== 'wash')
  const choose = async (value: string) => {
    try {
      setProblem(null)
      const [kind, id] = value.split(' ')
      setPaint({ cloneOf: kind === 'reference' ? await hangReference(id) : id || null, cloneBy: null })
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error))
    }
  }
  return (
    <section className="section">
      <div className="section-head">
        <span>Paints from</span>
        <span className="quiet">{cloneFrom ? 'Alt sets another place' : 'press Alt where'}</span>
      </div>
      <SelectRow
        id="paint-clone-of"
        label="Of"
        value={cloneOf === null ? '' : `layer ${cloneOf}`}
        onChange={(picked) => void choose(picked)}
      >
        <option value="">What is seen</option>
        {layers.map(({ id, name }) => (
          <option key={id} value={`layer ${id}`}>
            {name}
          </option>
        ))}
        {project.references.map(({ id, name }) => (
          <option key={id} value={`reference ${id}`}>
            {name}, a reference
          </option>
        ))}
      </SelectRow>
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      {cloneOf !== null && sheet.nodes[cloneOf] && <SourcePicture key={cloneOf} layerId={cloneOf} />}
      <SwitchRow
        label="Keep the distance"
        checked={cloneKeeps}
        onChange={(on) => setPaint({ cloneKeeps: on, cloneBy: null })}
      />
    </section>
  )
}

/** A small picture of a layer: a press on it is where cloning paints from. */
function SourcePicture({ layerId }: { readonly layerId: string }) {
  const ref = useRef<HTMLCanvasElement>(null)
  const cloneFrom = usePaint((s) => s.cloneFrom)
  const project = useProjectStore((s) => s.project)
  const sheet = project && activeSheet(project)
  const { width = 1, height = 1 } = sheet ?? {}
  const small = { width: WIDE, height: Math.max(1, Math.round((WIDE * height) / width)) }
  const node = sheet?.nodes[layerId]
  const wanted = useRef({ project, small })
  useEffect(() => {
    wanted.current = { project, small }
  })
  useEffect(() => {
    const { project: now, small: size } = wanted.current
    let stale = false
    if (now)
      void askSheet(now, (worker) => worker.raster({ type: 'thumbnail', layerId, small: size }))
        .then((raster) => {
          const context = ref.current?.getContext('2d')
          if (stale || !context || !raster) return
          context.putImageData(new ImageData(raster.rgba, raster.width, raster.height), 0, 0)
        })
        .catch(() => undefined)
    return () => {
      stale = true
    }
  }, [layerId, node])
  return (
    <button
      className="clone-source"
      aria-label="Where of it: press a place"
      data-testid="clone-source"
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect()
        const [x, y] = [(e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height]
        // By keyboard, its middle.
        const place = e.detail === 0 ? ([0.5, 0.5] as const) : ([x, y] as const)
        setPaint({ cloneFrom: [place[0] * width, place[1] * height], cloneBy: null })
      }}
    >
      <canvas ref={ref} width={small.width} height={small.height} />
      {cloneFrom && (
        <i style={{ left: `${(100 * cloneFrom[0]) / width}%`, top: `${(100 * cloneFrom[1]) / height}%` }} />
      )}
    </button>
  )
}

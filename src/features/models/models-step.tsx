'use client'

import { useMemo, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { useSnackbar } from 'notistack'
import { MODEL_EXTENSIONS } from '@/core/formats/model-readers'
import { toHex } from '@/core/math/colour'
import { PART_ROLES, type PartRole } from '@/core/scene/part-role'
import type { Project, ProjectModel } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { importModels } from '@/state/import-models'
import { useMeshStore } from '@/state/mesh-store'
import { changeProject, useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { ModelInspector } from './model-inspector'
import { ModelsView } from './models-view'

const ACCEPT = [...MODEL_EXTENSIONS, 'mtl', 'bin'].map((e) => `.${e}`).join(',')

export function setRoles(keys: readonly string[], role: PartRole): void {
  const wanted = new Set(keys)
  const names = keys.length === 1 ? '1 part' : `${keys.length} parts`
  changeProject(`${names} ${role}`, (draft) => {
    for (const model of draft.models)
      for (const part of model.parts) if (wanted.has(part.key)) part.role = role
  })
}

/** Models in, their parts as a tree. */
export function ModelsStep() {
  const project = useProjectStore((s) => s.project) as Project
  const inputRef = useRef<HTMLInputElement>(null)
  const abortRef = useRef<AbortController | null>(null)
  /** What is being read, in words; null when nothing is. */
  const [busy, setBusy] = useState<string | null>(null)
  const [dragging, setDragging] = useState(false)
  const [problems, setProblems] = useState<readonly string[]>([])
  const [search, setSearch] = useState('')
  const { enqueueSnackbar } = useSnackbar()
  const add = async (files: readonly File[]) => {
    if (files.length === 0) return
    setBusy('Reading …')
    setProblems([])
    abortRef.current = new AbortController()
    const outcome = await importModels(files, abortRef.current.signal, (name, bytes) =>
      setBusy(`Reading ${name}, ${(bytes / 1e6).toFixed(1)} MB …`),
    )
    setBusy(null)
    setProblems(outcome.problems)
    if (outcome.added.length > 0) enqueueSnackbar(`Added ${outcome.added.join(', ')}`)
  }
  const addDemo = async () => {
    setBusy('Fetching the tide kiosk …')
    const files = await Promise.all(
      ['tide-kiosk.obj', 'tide-kiosk.mtl'].map(
        async (name) => new File([await (await fetch(`/demo/${name}`)).blob()], name),
      ),
    )
    await add(files)
  }
  const selected = useViewStore((s) => s.partKeys)
  useActions('Models', [
    { id: 'add', label: 'Add models', keys: 'a', run: () => inputRef.current?.click() },
    { id: 'demo-model', label: 'Add the demo model', run: () => void addDemo() },
    ...(selected.length > 0
      ? PART_ROLES.map((role, i) => ({
          id: `role-${role}`,
          label: `Role: ${role}`,
          keys: `Shift+${'SGUO'[i]}`,
          run: () => setRoles(selected, role),
        }))
      : []),
  ])
  return (
    <div className="step">
      <div
        style={{ position: 'relative', display: 'flex', flexDirection: 'column', minHeight: 0 }}
        onDragOver={(e) => {
          e.preventDefault()
          setDragging(true)
        }}
        onDragLeave={(e) => !e.currentTarget.contains(e.relatedTarget as Node | null) && setDragging(false)}
        onDrop={(e) => {
          e.preventDefault()
          setDragging(false)
          void add([...e.dataTransfer.files])
        }}
      >
        {dragging && <div className="drop-veil">Drop to add to {project.name}</div>}
        <input
          ref={inputRef}
          type="file"
          multiple
          hidden
          accept={ACCEPT}
          data-testid="model-input"
          onChange={(e) => {
            void add([...(e.target.files ?? [])])
            e.target.value = ''
          }}
        />
        {problems.length > 0 && (
          <div className="problem" role="alert" style={{ margin: 16 }}>
            <b>
              {problems.length === 1 ? 'One file was not added.' : `${problems.length} files were not added.`}
            </b>{' '}
            The project is as it was otherwise.
            <ul>
              {problems.map((p) => (
                <li key={p}>{p}</li>
              ))}
            </ul>
            <button className="link" onClick={() => setProblems([])}>
              Put away
            </button>
          </div>
        )}
        {project.models.length === 0 ? (
          <div className="empty">
            <h2 className="display">Bring in a model</h2>
            <p>
              Drop OBJ with its MTL, GLB, glTF with its .bin, PLY or STL here. Polygons stay polygons, and
              every object, group or solid becomes a part you can mask by later.
            </p>
            {busy ? (
              <p role="status">
                {busy}{' '}
                <button className="link" onClick={() => abortRef.current?.abort()}>
                  Cancel
                </button>
              </p>
            ) : (
              <div style={{ display: 'flex', gap: 10 }}>
                <Button variant="contained" onClick={() => inputRef.current?.click()}>
                  Choose files
                </Button>
                <Button variant="outlined" onClick={() => void addDemo()} data-testid="add-demo-model">
                  Use the demo tide kiosk
                </Button>
              </div>
            )}
          </div>
        ) : (
          <>
            <div className="parts-head">
              <input
                className="plain-select"
                placeholder="Search parts and materials"
                aria-label="Search parts and materials"
                value={search}
                onChange={(e) => setSearch(e.target.value)}
                style={{ width: 240 }}
              />
              <span className="spacer" />
              {busy && (
                <span role="status" className="quiet">
                  {busy}{' '}
                  <button className="link" onClick={() => abortRef.current?.abort()}>
                    Cancel
                  </button>
                </span>
              )}
              <Button variant="contained" onClick={() => inputRef.current?.click()} disabled={busy !== null}>
                Add models
              </Button>
            </div>
            <div className="models-split">
              <div className="parts">
                {project.models.map((model) => (
                  <PartsTree key={model.id} model={model} search={search.toLowerCase()} />
                ))}
              </div>
              <ModelsView project={project} />
            </div>
          </>
        )}
      </div>
      <ModelInspector />
    </div>
  )
}

function PartsTree({ model, search }: { model: ProjectModel; search: string }) {
  const problem = useMeshStore((s) => s.problems[model.id])
  const selected = useViewStore((s) => s.partKeys)
  const [renaming, setRenaming] = useState<string | null>(null)
  const anchor = useRef<string | null>(null)
  const depths = useMemo(() => {
    const out: number[] = []
    model.parts.forEach((part, i) => (out[i] = part.parent < 0 ? 0 : out[part.parent] + 1))
    return out
  }, [model.parts])
  const rows = model.parts
    .map((part, i) => ({
      part,
      depth: depths[i],
      materials: part.materials.map((m) => model.materials[m].name).join(', '),
    }))
    .filter(({ part, materials }) => !search || `${part.name} ${materials}`.toLowerCase().includes(search))
  const choose = (key: string, event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const keys = rows.map((r) => r.part.key)
    if (event.shiftKey && anchor.current) {
      const [a, b] = [keys.indexOf(anchor.current), keys.indexOf(key)].sort((x, y) => x - y)
      setBench({ partKeys: keys.slice(Math.max(0, a), b + 1) })
      return
    }
    anchor.current = key
    if (event.ctrlKey || event.metaKey) {
      setBench({ partKeys: selected.includes(key) ? selected.filter((k) => k !== key) : [...selected, key] })
    } else setBench({ partKeys: [key] })
  }
  const rename = (key: string, name: string) => {
    setRenaming(null)
    const trimmed = name.trim()
    if (!trimmed) return
    changeProject('rename part', (draft) => {
      for (const m of draft.models) for (const p of m.parts) if (p.key === key) p.name = trimmed
    })
  }
  return (
    <section aria-label={model.name}>
      <div className="model-head">
        <h3 className="display">{model.name}</h3>
        <span className="quiet">
          {model.parts.length} parts,{' '}
          {(model.polygons[3] + model.polygons[4] + model.polygons.more).toLocaleString('en')} polygons
        </span>
      </div>
      {problem && (
        <div className="problem" style={{ margin: '4px 16px' }}>
          {problem}
        </div>
      )}
      <div role="tree" aria-label={`Parts of ${model.name}`} aria-multiselectable="true">
        {rows.map(({ part, depth, materials }, index) => {
          const off = part.role === 'off'
          return (
            <div
              key={part.key}
              className={`part-row ${off ? 'off' : ''}`}
              role="treeitem"
              aria-level={depth + 1}
              aria-selected={selected.includes(part.key)}
              tabIndex={0}
              onClick={(e) => choose(part.key, e)}
              onDoubleClick={() => setRenaming(part.key)}
              onKeyDown={(e) => {
                if (e.target !== e.currentTarget) return
                const move = e.key === 'ArrowDown' ? 1 : e.key === 'ArrowUp' ? -1 : 0
                if (move !== 0) {
                  e.preventDefault()
                  const next = rows[index + move]
                  const element =
                    move > 0 ? e.currentTarget.nextElementSibling : e.currentTarget.previousElementSibling
                  if (next) choose(next.part.key, e)
                  if (element instanceof HTMLElement) element.focus()
                } else if (e.key === 'F2' || e.key === 'Enter') {
                  e.preventDefault()
                  setRenaming(part.key)
                } else if (e.key === ' ') {
                  e.preventDefault()
                  setRoles(selected.includes(part.key) ? selected : [part.key], off ? 'subject' : 'off')
                }
              }}
            >
              <button
                className="icon-button"
                aria-label={off ? `Show ${part.name}` : `Hide ${part.name}`}
                title={off ? 'Show' : 'Hide'}
                onClick={(e) => {
                  e.stopPropagation()
                  setRoles([part.key], off ? 'subject' : 'off')
                }}
              >
                {off ? '○' : '●'}
              </button>
              {renaming === part.key ? (
                <input
                  className="rename"
                  autoFocus
                  aria-label="Part name"
                  defaultValue={part.name}
                  onFocus={(e) => e.target.select()}
                  onBlur={(e) => rename(part.key, e.target.value)}
                  onKeyDown={(e) => {
                    if (e.key === 'Enter') rename(part.key, e.currentTarget.value)
                    if (e.key === 'Escape') setRenaming(null)
                  }}
                />
              ) : (
                <span className="name" style={{ paddingLeft: depth * 16 }} title="Double-click to rename">
                  {part.name}
                </span>
              )}
              <span className="part-material" title={materials}>
                {part.materials.slice(0, 3).map((m) => (
                  <i key={m} style={{ background: toHex(model.materials[m].baseColour) }} />
                ))}
                <span>{materials}</span>
              </span>
              <span className="number quiet">{part.polygons.toLocaleString('en')}</span>
              <select
                aria-label={`Role of ${part.name}`}
                title="Role"
                data-role={part.role}
                value={part.role}
                onClick={(e) => e.stopPropagation()}
                onChange={(e) =>
                  setRoles(selected.includes(part.key) ? selected : [part.key], e.target.value as PartRole)
                }
              >
                {PART_ROLES.map((role) => (
                  <option key={role}>{role}</option>
                ))}
              </select>
            </div>
          )
        })}
      </div>
    </section>
  )
}

'use client'

import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { useSnackbar } from 'notistack'
import { baseName } from '@/core/formats/file-bundle'
import { COMPANION_EXTENSIONS, MODEL_EXTENSIONS } from '@/core/formats/model-readers'
import { PART_ROLES, roleNow } from '@/core/scene/part-role'
import { useActions } from '@/state/actions'
import { droppedFiles, pickedFiles, type GivenFile } from '@/state/given-files'
import {
  cancelImport,
  importFiles,
  putOutcomeAway,
  replaceModel,
  useImportStore,
} from '@/state/import-models'
import {
  changeModel,
  dropToGround,
  freeGroupName,
  groupByMaterial,
  groupParts,
  hideParts,
  moveToGroup,
  partsOf,
  setRoles,
  showParts,
} from '@/state/model-actions'
import { useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { PanelTabs } from '@/ui/panel-tabs'
import { ChosenBar } from './chosen-bar'
import { ImportReport, reportLists } from './import-report'
import { MaterialsPanel } from './materials-panel'
import { ModelsView } from './models-view'
import { PartsTree } from './parts-tree'
import { PlacePanel } from './place-panel'
import { RenameDialog } from './rename-dialog'
import { ReportPanel } from './report-panel'
import { ModelsStepStyles } from './models-step-styles'

const ACCEPT = [...MODEL_EXTENSIONS, ...COMPANION_EXTENSIONS, 'zip'].map((e) => `.${e}`).join(',')
const PICTURES = 'image/*'

const PANELS = ['report', 'materials', 'place'] as const
type Panel = (typeof PANELS)[number]
const panelLabels: Readonly<Record<Panel, string>> = {
  report: 'Report',
  materials: 'Materials',
  place: 'Place',
}

const stageLabels = { reading: 'Reading', repairing: 'Mending', 'looking over': 'Looking over' } as const

/** Models in, looked over, mended, put in order and placed. */
export function ModelsStep() {
  const project = useOpenProject()
  const progress = useImportStore((s) => s.progress)
  const filesRef = useRef<HTMLInputElement>(null)
  const folderRef = useRef<HTMLInputElement>(null)
  const picturesRef = useRef<HTMLInputElement>(null)
  const searchRef = useRef<HTMLInputElement>(null)
  const replacing = useRef<string | null>(null)
  const [dragging, setDragging] = useState(false)
  const [search, setSearch] = useState('')
  const [panel, setPanel] = useState<Panel>('report')
  const [renaming, setRenaming] = useState(false)
  const { enqueueSnackbar } = useSnackbar()
  const chosen = useViewStore((s) => s.partKeys)
  const solo = useViewStore((s) => s.solo)
  const modelId = useViewStore((s) => s.modelId)
  const ofChosen = project.models.find((m) => m.parts.some((p) => chosen.includes(p.key)))
  const model = ofChosen ?? project.models.find((m) => m.id === modelId) ?? project.models[0]

  const hidden = partsOf(project, chosen).every((part) => roleNow(part) === 'off')

  const add = async (given: readonly GivenFile[]) => {
    if (given.length === 0) return
    const id = replacing.current
    replacing.current = null
    const outcome = await (id === null ? importFiles(given) : replaceModel(id, given))
    const last = outcome.added.at(-1)
    if (last !== undefined) {
      setBench({ modelId: last, partKeys: [] })
      setPanel('report')
    }
    const { project: now } = useProjectStore.getState()
    if (!now || outcome.cancelled || reportLists(now, outcome).length > 0) return
    // Nothing but good news needs no report.
    putOutcomeAway()
    const names = now.models.filter((m) => outcome.added.includes(m.id)).map((m) => m.name)
    const did = outcome.pinned.length > 0 ? 'Pinned' : id === null ? 'Added' : 'Replaced'
    enqueueSnackbar(`${did} ${[...names, ...outcome.pinned].join(', ')}`)
  }
  const pick = (list: FileList | null) => void add(pickedFiles(list ?? []))
  const replace = (id: string) => {
    replacing.current = id
    filesRef.current?.click()
  }
  const addDemo = async () => {
    const files = await Promise.all(
      ['tide-kiosk.obj', 'tide-kiosk.mtl'].map(
        async (name) => new File([await (await fetch(`/demo/${name}`)).blob()], name),
      ),
    )
    await add(pickedFiles(files))
  }
  const addFiles = () => {
    replacing.current = null
    filesRef.current?.click()
  }
  const fail = (problem: string) => enqueueSnackbar(problem, { variant: 'error' })

  useActions('Models', [
    { id: 'add', label: 'Add models', keys: 'a', run: addFiles },
    { id: 'add-folder', label: 'Add a folder', keys: 'Shift+A', run: () => folderRef.current?.click() },
    { id: 'pin', label: 'Pin a reference picture', keys: 'p', run: () => picturesRef.current?.click() },
    { id: 'demo-model', label: 'Add the demo model', run: () => void addDemo() },
    { id: 'search', label: 'Search parts', keys: '/', run: () => searchRef.current?.focus() },
    ...PANELS.map((name) => ({
      id: `panel-${name}`,
      label: `Inspector: ${panelLabels[name]}`,
      keys: { report: 'Shift+R', materials: 'Shift+M', place: 'Shift+P' }[name],
      run: () => setPanel(name),
    })),
    ...(project.models.length > 0
      ? [
          {
            id: 'all',
            label: 'Choose all parts',
            run: () => setBench({ partKeys: project.models.flatMap((m) => m.parts.map((p) => p.key)) }),
          },
        ]
      : []),
    ...(model
      ? [
          { id: 'drop', label: 'Drop to ground', keys: 'd', run: () => dropToGround(model.id) },
          { id: 'replace', label: 'Replace by a newer file', run: () => replace(model.id) },
        ]
      : []),
    ...(chosen.length > 0
      ? [
          ...PART_ROLES.map((role) => ({
            id: `role-${role}`,
            label: `Role: ${role}`,
            keys: { subject: 'Shift+S', ground: 'Shift+G', unseen: 'Shift+U', off: 'Shift+O' }[role],
            run: () => setRoles(chosen, role),
          })),
          {
            id: 'hide',
            label: hidden ? 'Show the chosen parts' : 'Hide the chosen parts',
            keys: 'h',
            run: () => (hidden ? showParts : hideParts)(chosen),
          },
          {
            id: 'group',
            label: 'Group the chosen parts',
            keys: 'g',
            run: () => void groupParts(chosen, freeGroupName(project)),
          },
          { id: 'ungroup', label: 'Out of their groups', keys: 'u', run: () => moveToGroup(chosen, null) },
          { id: 'by-material', label: 'One group for each material', run: () => groupByMaterial(chosen) },
          { id: 'rename', label: 'Rename the chosen parts', keys: 'r', run: () => setRenaming(true) },
          {
            id: 'solo',
            label: solo === null ? 'Show the chosen parts alone' : 'Show all again',
            keys: 's',
            run: () => setBench({ solo: solo === null ? [...chosen] : null }),
          },
        ]
      : []),
    ...(chosen.length > 0 || solo !== null
      ? [
          {
            id: 'none',
            label: 'Choose none',
            keys: 'Escape',
            run: () => setBench({ partKeys: [], solo: null }),
          },
        ]
      : []),
  ])

  const inputs = (
    <>
      <input
        ref={filesRef}
        type="file"
        multiple
        hidden
        accept={ACCEPT}
        data-testid="model-input"
        onChange={(e) => {
          pick(e.target.files)
          e.target.value = ''
        }}
      />
      <input
        ref={folderRef}
        type="file"
        multiple
        hidden
        data-testid="folder-input"
        {...{ webkitdirectory: '' }}
        onChange={(e) => {
          replacing.current = null
          pick(e.target.files)
          e.target.value = ''
        }}
      />
      <input
        ref={picturesRef}
        type="file"
        multiple
        hidden
        accept={PICTURES}
        data-testid="reference-input"
        onChange={(e) => {
          replacing.current = null
          pick(e.target.files)
          e.target.value = ''
        }}
      />
    </>
  )
  const busy = progress && (
    <span role="status" className="quiet busy" data-testid="importing">
      {progress.count > 1 && `${progress.index + 1} of ${progress.count}. `}
      {stageLabels[progress.stage]} {baseName(progress.name)}, {(progress.bytes / 1e6).toFixed(1)} MB{' '}
      <button className="link" onClick={cancelImport}>
        Cancel
      </button>
      <span className="progress busy">
        <div />
      </span>
    </span>
  )
  return (
    <div className="step">
      <ModelsStepStyles />
      <div
        style={{ position: 'relative', display: 'flex', flexDirection: 'column', minHeight: 0 }}
        onDragOver={(e) => {
          if (!e.dataTransfer.types.includes('Files')) return
          e.preventDefault()
          setDragging(true)
        }}
        onDragLeave={(e) => !e.currentTarget.contains(e.relatedTarget as Node | null) && setDragging(false)}
        onDrop={(e) => {
          if (!e.dataTransfer.types.includes('Files')) return
          e.preventDefault()
          setDragging(false)
          replacing.current = null
          void droppedFiles(e.dataTransfer).then(add, (error: unknown) => fail(String(error)))
        }}
        data-testid="drop-here"
      >
        {dragging && <div className="drop-veil">Drop to add to {project.name}</div>}
        {inputs}
        <ImportReport project={project} />
        {project.models.length === 0 ? (
          <div className="empty">
            <h2 className="display">Bring in a model</h2>
            <p>
              Drop OBJ, glTF, GLB, PLY or STL here, with the pictures and libraries that belong to them: as
              files, as a folder or as a zip. Polygons stay polygons, and every object becomes a part you can
              mask by later.
            </p>
            {busy || (
              <div style={{ display: 'flex', gap: 10 }}>
                <Button variant="contained" onClick={addFiles}>
                  Choose files
                </Button>
                <Button variant="outlined" onClick={() => folderRef.current?.click()}>
                  Choose a folder
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
                ref={searchRef}
                className="plain-select"
                placeholder="Search parts and materials"
                aria-label="Search parts and materials"
                value={search}
                onChange={(e) => setSearch(e.target.value)}
                onKeyDown={(e) => {
                  if (e.key === 'Escape') setSearch('')
                  if (e.key === 'ArrowDown') {
                    e.preventDefault()
                    const row = e.currentTarget
                      .closest('.step')
                      ?.querySelector<HTMLElement>('[role=treeitem][tabindex="0"]')
                    row?.focus()
                  }
                }}
                style={{ width: 220 }}
              />
              <span className="spacer" />
              {busy}
              <Button variant="outlined" onClick={() => picturesRef.current?.click()}>
                Pin a picture
              </Button>
              <Button
                variant="outlined"
                onClick={() => folderRef.current?.click()}
                disabled={progress !== null}
              >
                Add a folder
              </Button>
              <Button variant="contained" onClick={addFiles} disabled={progress !== null}>
                Add models
              </Button>
            </div>
            <div className="models-split">
              <div className="parts-column">
                <ChosenBar project={project} onRename={() => setRenaming(true)} />
                <PartsTree project={project} search={search} />
              </div>
              <ModelsView project={project} model={model} />
            </div>
          </>
        )}
      </div>
      <aside className="inspector" aria-label="Inspector">
        <div className="inspector-head">
          {model ? (
            <>
              <input
                className="title-input display"
                aria-label="Name of the model"
                value={model.name}
                onChange={(e) =>
                  changeModel(model.id, 'rename model', (m) => void (m.name = e.target.value), 'name')
                }
              />
              <span className="quiet">{model.source.type === 'file' ? 'model' : 'made here'}</span>
            </>
          ) : (
            <h2 className="display">Nothing yet</h2>
          )}
        </div>
        {model ? (
          <>
            <PanelTabs
              label="What is shown"
              names={PANELS}
              labels={panelLabels}
              chosen={panel}
              onChoose={setPanel}
            >
              {panel === 'report' && (
                <ReportPanel key={model.id} model={model} onReplace={() => replace(model.id)} />
              )}
              {panel === 'materials' && (
                <MaterialsPanel project={project} onPin={() => picturesRef.current?.click()} />
              )}
              {panel === 'place' && <PlacePanel project={project} model={model} onProblem={fail} />}
            </PanelTabs>
          </>
        ) : (
          <p className="quiet">
            What you bring in is described here: parts, polygons, materials, and anything that had to be
            mended.
          </p>
        )}
      </aside>
      {renaming && <RenameDialog parts={partsOf(project, chosen)} onClose={() => setRenaming(false)} />}
    </div>
  )
}

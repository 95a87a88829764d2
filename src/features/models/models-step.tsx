'use client'

import { useRef, useState, type ChangeEvent } from 'react'
import { useSnackbar } from 'notistack'
import { COMPANION_EXTENSIONS, MODEL_EXTENSIONS } from '@/core/formats/model-readers'
import { droppedFiles, pickedFiles, type GivenFile } from '@/state/given-files'
import { importFiles, putOutcomeAway, replaceModel } from '@/state/import-models'
import { partsOf } from '@/state/model-actions'
import { useProjectStore } from '@/state/project-store'
import { setBench, useViewStore } from '@/state/view-store'
import { useOpenProject } from '@/ui/open-project'
import { ChosenBar } from './chosen-bar'
import { ImportReport, reportLists } from './import-report'
import { ModelsInspector, type Panel } from './models-inspector'
import { ModelsStepStyles } from './models-step-styles'
import { ModelsView } from './models-view'
import { NoModels } from './no-models'
import { PartsHead } from './parts-head'
import { PartsTree } from './parts-tree'
import { RenameDialog } from './rename-dialog'
import { useModelsActions } from './use-models-actions'

const ACCEPT = [...MODEL_EXTENSIONS, ...COMPANION_EXTENSIONS, 'zip'].map((e) => `.${e}`).join(',')
const PICTURES = 'image/*'

/** Models in, looked over, mended, put in order and placed. */
export function ModelsStep() {
  const project = useOpenProject()
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
  const modelId = useViewStore((s) => s.modelId)
  const ofChosen = project.models.find((m) => m.parts.some((p) => chosen.includes(p.key)))
  const model = ofChosen ?? project.models.find((m) => m.id === modelId) ?? project.models[0]

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
  const addFolder = () => folderRef.current?.click()
  const pinPicture = () => picturesRef.current?.click()
  const fail = (problem: string) => enqueueSnackbar(problem, { variant: 'error' })

  useModelsActions({
    project,
    model,
    addFiles,
    addFolder,
    addDemo,
    pinPicture,
    replace,
    search: () => searchRef.current?.focus(),
    rename: () => setRenaming(true),
    setPanel,
  })

  const taken = (event: ChangeEvent<HTMLInputElement>) => {
    pick(event.target.files)
    event.target.value = ''
  }
  const takenAnew = (event: ChangeEvent<HTMLInputElement>) => {
    replacing.current = null
    taken(event)
  }
  const inputs = (
    <>
      <input
        ref={filesRef}
        type="file"
        multiple
        hidden
        accept={ACCEPT}
        data-testid="model-input"
        onChange={taken}
      />
      <input
        ref={folderRef}
        type="file"
        multiple
        hidden
        data-testid="folder-input"
        {...{ webkitdirectory: '' }}
        onChange={takenAnew}
      />
      <input
        ref={picturesRef}
        type="file"
        multiple
        hidden
        accept={PICTURES}
        data-testid="reference-input"
        onChange={takenAnew}
      />
    </>
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
          <NoModels onFiles={addFiles} onFolder={addFolder} onDemo={() => void addDemo()} />
        ) : (
          <>
            <PartsHead
              searchRef={searchRef}
              search={search}
              onSearch={setSearch}
              onFiles={addFiles}
              onFolder={addFolder}
              onPin={pinPicture}
            />
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
      <ModelsInspector
        project={project}
        model={model}
        panel={panel}
        onPanel={setPanel}
        onReplace={replace}
        onPin={pinPicture}
        onProblem={fail}
      />
      {renaming && <RenameDialog parts={partsOf(project, chosen)} onClose={() => setRenaming(false)} />}
    </div>
  )
}

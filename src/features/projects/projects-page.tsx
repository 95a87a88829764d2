'use client'

import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useEffect, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { useLiveQuery } from 'dexie-react-hooks'
import { useSnackbar } from 'notistack'
import { database, type ProjectRow } from '@/data/database'
import { newProject } from '@/data/new-project'
import { createProject, storageProblem } from '@/data/project-repository'
import { copyProject, importArchive } from '@/data/storage-service'
import { closeProject } from '@/state/project-store'
import { cancelAllRenders, isRunning, useRenderQueue } from '@/state/render-queue'
import {
  clearJournals,
  clearStored,
  deleteStored,
  renameStored,
  restoreStored,
} from '@/state/stored-projects'
import { beginWith } from '@/state/begin-with-recipe'
import { addDemo, firstStart } from '@/state/first-start'
import type { GivenFile } from '@/state/given-files'
import { setBench } from '@/state/view-store'
import { useActions } from '@/state/actions'
import { PURPOSES, type Purpose } from '@/data/purposes'
import { PosterShelf } from './poster-shelf'
import { PurposeStrip } from './purpose-strip'
import { RecipeStrip } from './recipe-strip'
import { Thumbnail } from './thumbnail'
import { ProjectsPageStyles } from './projects-page-styles'

/** Projects that every installation brings along. */
const DEMO_IDS: readonly string[] = [...new Set(PURPOSES.map(({ demo }) => demo.projectId))]

const OPENING = 'Opening the bench …'

/** The start page: every project in this browser. */
export function ProjectsPage() {
  const router = useRouter()
  const { enqueueSnackbar, closeSnackbar } = useSnackbar()
  const fileRef = useRef<HTMLInputElement>(null)
  const [busy, setBusy] = useState<string | null>(OPENING)
  const [renaming, setRenaming] = useState<ProjectRow | null>(null)
  const all = useLiveQuery(() => database.projects.orderBy('updatedAt').reverse().toArray())
  const rows = all?.filter((row) => row.deletedAt === null)
  const deleted = all?.filter((row) => row.deletedAt !== null) ?? []
  useEffect(() => {
    void closeProject()
    setBench({ isMaking: false, peel: Infinity })
    void database.projects
      .toCollection()
      .primaryKeys()
      .then(
        (ids) => clearJournals(new Set(ids)),
        () => undefined,
      )
    void firstStart().then((problem) => {
      setBusy(null)
      if (problem) enqueueSnackbar(problem, { variant: 'error' })
    })
  }, [enqueueSnackbar])

  const attempt = async (what: string, action: () => Promise<void>) => {
    setBusy(what)
    try {
      await action()
    } catch (error) {
      enqueueSnackbar(
        error instanceof Error && /quota/i.test(error.name)
          ? storageProblem(error)
          : String(error instanceof Error ? error.message : error),
        { variant: 'error' },
      )
    } finally {
      setBusy(null)
    }
  }
  const create = () =>
    attempt('Making a project …', async () => {
      const project = newProject('Untitled')
      await createProject(project)
      router.push(`/project/${project.id}/models`)
    })
  const begin = (recipeId: string, files: readonly GivenFile[]) =>
    attempt('Making a project …', async () => {
      const project = newProject('Untitled')
      await createProject(project)
      beginWith({ projectId: project.id, recipeId, files })
      router.push(`/project/${project.id}/models`)
    })
  const beginFor = ({ set }: Purpose, files: readonly GivenFile[]) =>
    attempt('Making a project …', async () => {
      const project = newProject('Untitled', set)
      await createProject(project)
      beginWith({ projectId: project.id, recipeId: null, files })
      router.push(`/project/${project.id}/models`)
    })
  const showDemo = ({ projectId, step }: Purpose['demo']) =>
    attempt('Opening the demo …', async () => {
      const row = await database.projects.get(projectId)
      if (row && row.deletedAt !== null) await restoreStored(projectId)
      const problem = row ? null : await addDemo([projectId])
      if (problem) throw new Error(problem)
      router.push(`/project/${projectId}/${step}`)
    })
  const showMaking = () => {
    setBench({ isMaking: true, peel: 1, layerId: null })
    void showDemo({ projectId: 'low-water', step: 'sheet' })
  }
  const importFile = (file: File) =>
    attempt(`Reading ${file.name} …`, async () => {
      const id = await importArchive(file, file.name)
      router.push(`/project/${id}/sheet`)
    })
  const remove = async (row: ProjectRow) => {
    await deleteStored(row.id)
    const key = enqueueSnackbar(`Deleted ${row.name}. It is kept for a month.`, {
      autoHideDuration: 15_000,
      action: (
        <Button
          color="inherit"
          onClick={() => {
            void restoreStored(row.id)
            closeSnackbar(key)
          }}
        >
          Undo
        </Button>
      ),
    })
  }
  const demo = () =>
    attempt('Bringing in the demo …', async () => {
      const problem = await addDemo()
      if (problem) throw new Error(problem)
    })
  useActions('Projects', [
    { id: 'new', label: 'New project', keys: 'n', run: () => void create() },
    { id: 'import', label: 'Open a project archive', keys: 'o', run: () => fileRef.current?.click() },
    {
      id: 'making',
      label: 'How Low Water was made, layer by layer',
      run: showMaking,
    },
    { id: 'demo', label: 'Bring in the demo Low Water', run: () => void demo() },
  ])
  // Who has work here comes back to it first.
  const hasOwn = rows?.some(({ id }) => !DEMO_IDS.includes(id)) ?? false
  const purposes = rows && (
    <PurposeStrip
      onBegin={(purpose, files) => void beginFor(purpose, files)}
      onDemo={({ demo }) => void showDemo(demo)}
      onMaking={showMaking}
    />
  )
  return (
    <main className="projects">
      <ProjectsPageStyles />
      <div style={{ display: 'flex', alignItems: 'baseline', gap: 12 }}>
        <h1 className="display" style={{ fontSize: 32, margin: 0 }}>
          Muted Relief
        </h1>
        <RenderingNote />
        <span className="quiet">{busy ?? 'Passes from 3D models, layered into pictures'}</span>
        <span className="spacer" />
        <button className="link" onClick={() => setBench({ guide: 'purposes-illustration' })} title="F1">
          Guide
        </button>
        <Button variant="outlined" onClick={() => fileRef.current?.click()}>
          Open an archive
        </Button>
        <Button variant="contained" onClick={() => void create()} data-testid="new-project">
          New project
        </Button>
        <input
          ref={fileRef}
          type="file"
          accept=".zip"
          hidden
          data-testid="archive-input"
          onChange={(e) => {
            const file = e.target.files?.[0]
            e.target.value = ''
            if (file) void importFile(file)
          }}
        />
      </div>
      {!hasOwn && purposes}
      <div className="projects-head">
        <h2 className="display">Projects</h2>
      </div>
      {rows?.length === 0 && busy === OPENING && (
        <div className="empty" style={{ height: 360 }} role="status">
          <h2 className="display">Laying out Low Water</h2>
          <p>
            The first start brings in a finished illustration to take apart. This takes some seconds, once.
          </p>
          <div className="progress busy" style={{ width: 220 }}>
            <div />
          </div>
        </div>
      )}
      {rows?.length === 0 && !busy && (
        <div className="empty" style={{ height: 360 }}>
          <h2 className="display">No project yet</h2>
          <p>
            A project holds your models, one shot of them, its passes, and the sheet you layer them on. Choose
            above what it shall be, or look at the demo first.
          </p>
          <Button variant="outlined" onClick={() => void demo()}>
            Bring in the demo
          </Button>
        </div>
      )}
      <ul className="project-grid">
        {rows?.flatMap((row) => [
          <li key={row.id} className="project-card">
            <Link
              className="picture"
              href={`/project/${encodeURIComponent(row.id)}/sheet`}
              aria-hidden="true"
              tabIndex={-1}
            >
              <Thumbnail bytes={row.thumbnail} />
            </Link>
            <div className="foot">
              <Link className="name display" href={`/project/${encodeURIComponent(row.id)}/sheet`}>
                {row.name}
              </Link>
              <button className="link" onClick={() => setRenaming(row)}>
                Rename
              </button>
              <button
                className="link"
                onClick={() => void attempt('Copying …', async () => void (await copyProject(row.id)))}
              >
                Duplicate
              </button>
              <button className="link" onClick={() => void attempt('Deleting …', () => remove(row))}>
                Delete
              </button>
            </div>
            <span className="quiet">
              Changed{' '}
              {new Date(row.updatedAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}
            </span>
          </li>,
          <PosterShelf key={`${row.id} posters`} row={row} />,
        ])}
      </ul>
      {hasOwn && purposes}
      <RecipeStrip
        projects={rows ?? []}
        onBegin={(recipeId, files) => void begin(recipeId, files)}
        onPut={(recipeId, projectId) => {
          setBench({ recipe: recipeId })
          router.push(`/project/${projectId}/sheet`)
        }}
      />
      {deleted.length > 0 && (
        <DeletedProjects
          rows={deleted}
          onRestore={(row) => void attempt('Bringing back …', () => restoreStored(row.id))}
          onClear={(row) => void attempt('Clearing …', () => clearStored(row.id))}
        />
      )}
      {renaming && (
        <RenameDialog
          row={renaming}
          onSave={(name) => void attempt('Renaming …', () => renameStored(renaming.id, name))}
          onClose={() => setRenaming(null)}
        />
      )}
    </main>
  )
}

/** Renders go on while their project is closed: says so. */
function RenderingNote() {
  const job = useRenderQueue((s) => s.jobs.find(isRunning))
  if (!job) return null
  const share = job.total > 0 ? ` ${Math.round((100 * job.done) / job.total)} %` : ''
  return (
    <span className="pill" role="status">
      Rendering {job.projectName}
      {share}{' '}
      <button className="link" onClick={cancelAllRenders}>
        Cancel
      </button>
    </span>
  )
}

interface DeletedProps {
  readonly rows: readonly ProjectRow[]
  readonly onRestore: (row: ProjectRow) => void
  readonly onClear: (row: ProjectRow) => void
}

/** What was deleted in the last month: brought back from here, or ended for good. */
function DeletedProjects({ rows, onRestore, onClear }: DeletedProps) {
  const [asked, setAsked] = useState<string | null>(null)
  return (
    <details className="deleted-projects">
      <summary>
        Deleted <span className="quiet">{rows.length}, kept for a month each</span>
      </summary>
      <ul>
        {rows.map((row) => (
          <li key={row.id}>
            <b>{row.name}</b>
            <span className="quiet">
              deleted{' '}
              {new Date(row.deletedAt ?? 0).toLocaleString(undefined, {
                dateStyle: 'medium',
                timeStyle: 'short',
              })}
            </span>
            <span className="spacer" />
            <button className="link" aria-label={`Bring back ${row.name}`} onClick={() => onRestore(row)}>
              Bring back
            </button>
            {asked === row.id ? (
              <button className="link attention-text" onClick={() => onClear(row)}>
                Cannot be undone: clear {row.name}
              </button>
            ) : (
              <button
                className="link"
                aria-label={`Clear ${row.name} for good`}
                onClick={() => setAsked(row.id)}
              >
                Clear for good
              </button>
            )}
          </li>
        ))}
      </ul>
    </details>
  )
}

interface RenameProps {
  readonly row: ProjectRow
  readonly onSave: (name: string) => void
  readonly onClose: () => void
}

function RenameDialog({ row, onSave, onClose }: RenameProps) {
  const [name, setName] = useState(row.name)
  return (
    <Dialog open onClose={onClose} aria-labelledby="rename-title">
      <form
        onSubmit={(e) => {
          e.preventDefault()
          if (!name.trim()) return
          onSave(name.trim())
          onClose()
        }}
      >
        <DialogTitle id="rename-title">Rename project</DialogTitle>
        <DialogContent>
          <TextField
            autoFocus
            fullWidth
            margin="dense"
            label="Name"
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>Cancel</Button>
          <Button variant="contained" type="submit" disabled={!name.trim()}>
            Rename
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  )
}

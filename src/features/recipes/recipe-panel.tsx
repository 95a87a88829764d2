'use client'

import { useEffect, useMemo, useRef, useState } from 'react'
import Button from '@mui/material/Button'
import { useSnackbar } from 'notistack'
import { passKind } from '@/core/passes/registry'
import { safeFileName } from '@/core/formats/safe-file-name'
import { activeSheet } from '@/data/active-shot'
import { database } from '@/data/database'
import type { Project } from '@/data/project-schema'
import { answersOf, matchPasses, matchRecipe, type Answers } from '@/data/recipes/match-recipe'
import type { RecipeBundle } from '@/data/recipes/recipe-file'
import { setRecipeDeleted, storeRecipeFile } from '@/data/recipes/stored-recipes'
import { findRecipe, hangRecipeHere, saveAsRecipe } from '@/state/recipe-actions'
import { nothingToRender } from '@/state/render-check'
import { queueRender } from '@/state/render-queue'
import { setBench, useViewStore } from '@/state/view-store'
import { RecipeCard, RecipeCardStyles, useRecipes, type OfferedRecipe } from '@/ui/recipe-cards'
import { saveFile } from '@/ui/save-file'
import { RecipePanelStyles } from './recipe-panel-styles'
import { RecipeQuestions } from './recipe-questions'

const wordsOf = (error: unknown): string => (error instanceof Error ? error.message : String(error))

/** Recipes beside the proof: all of them, or one with what becomes of it here. */
export function RecipePanel({ project }: { readonly project: Project }) {
  const shown = useViewStore((s) => s.recipe)
  const { own, ready } = useRecipes()
  const offered = [...own, ...ready].find(({ id }) => id === shown)
  return (
    <>
      <RecipeCardStyles />
      <RecipePanelStyles />
      {offered ? (
        <OneRecipe key={offered.id} project={project} offered={offered} />
      ) : (
        <RecipeList project={project} own={own} ready={ready} />
      )}
    </>
  )
}

interface ListProps {
  readonly project: Project
  readonly own: readonly OfferedRecipe[]
  readonly ready: readonly OfferedRecipe[]
}

function RecipeList({ project, own, ready }: ListProps) {
  const { enqueueSnackbar } = useSnackbar()
  const fileRef = useRef<HTMLInputElement>(null)
  const hasLayers = activeSheet(project).roots.length > 0
  const take = async (file: File) => {
    try {
      const id = await storeRecipeFile(file.name, new Uint8Array(await file.arrayBuffer()))
      setBench({ recipe: id })
    } catch (error) {
      enqueueSnackbar(wordsOf(error), { variant: 'error' })
    }
  }
  const grid = (list: readonly OfferedRecipe[]) => (
    <div className="recipe-grid">
      {list.map((recipe) => (
        <RecipeCard key={recipe.id} recipe={recipe} onChoose={() => setBench({ recipe: recipe.id })} />
      ))}
    </div>
  )
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">Recipes</h2>
        <button className="link" onClick={() => setBench({ recipe: null })}>
          Close
        </button>
      </div>
      <p className="quiet" style={{ margin: '0 0 12px' }}>
        A recipe is passes, light, stack, masks and effects without a model. Hanging one adds a sheet; what
        you have stays as it is.
      </p>
      {hasLayers && <SaveRecipe project={project} />}
      <section className="section">
        <div className="section-head">
          <span>Saved here</span>
          <span>
            <button className="link" onClick={() => fileRef.current?.click()}>
              Open a recipe file
            </button>
          </span>
        </div>
        {own.length > 0 ? grid(own) : <p className="quiet">None yet.</p>}
        <input
          ref={fileRef}
          type="file"
          accept=".zip"
          hidden
          data-testid="recipe-input"
          onChange={(e) => {
            const file = e.target.files?.[0]
            e.target.value = ''
            if (file) void take(file)
          }}
        />
      </section>
      <section className="section">
        <div className="section-head">
          <span>Ready to hang</span>
        </div>
        {grid(ready)}
      </section>
    </>
  )
}

/** Saves the sheet at work under a name. */
function SaveRecipe({ project }: { readonly project: Project }) {
  const { enqueueSnackbar } = useSnackbar()
  const [isOpen, setOpen] = useState(false)
  const [isBusy, setBusy] = useState(false)
  const save = async (form: FormData) => {
    setBusy(true)
    try {
      const name = String(form.get('name') ?? '').trim()
      if (!name) return
      await saveAsRecipe(name, String(form.get('note') ?? '').trim())
      enqueueSnackbar(`Saved ${name} as a recipe.`)
      setOpen(false)
    } catch (error) {
      enqueueSnackbar(wordsOf(error), { variant: 'error' })
    } finally {
      setBusy(false)
    }
  }
  if (!isOpen)
    return (
      <section className="section">
        <button className="link" data-testid="save-recipe" onClick={() => setOpen(true)}>
          Save this sheet as a recipe
        </button>
      </section>
    )
  return (
    <section className="section">
      <form
        className="recipe-form"
        onSubmit={(e) => {
          e.preventDefault()
          void save(new FormData(e.currentTarget))
        }}
      >
        <label>
          Name
          <input
            autoFocus
            name="name"
            className="plain-select"
            defaultValue={activeSheet(project).name}
            required
          />
        </label>
        <label>
          What it makes
          <input name="note" className="plain-select" placeholder="In a sentence" />
        </label>
        <span style={{ display: 'flex', gap: 8 }}>
          <Button
            type="submit"
            size="small"
            variant="outlined"
            disabled={isBusy}
            data-testid="save-recipe-now"
          >
            {isBusy ? 'Saving …' : 'Save'}
          </Button>
          <Button type="button" size="small" onClick={() => setOpen(false)}>
            Cancel
          </Button>
        </span>
      </form>
    </section>
  )
}

/** A recipe as read, or why it cannot be. */
function useBundle(id: string): { readonly bundle: RecipeBundle | null; readonly problem: string | null } {
  const [state, setState] = useState<{ bundle: RecipeBundle | null; problem: string | null }>({
    bundle: null,
    problem: null,
  })
  useEffect(() => {
    let isCurrent = true
    findRecipe(id).then(
      (bundle) => isCurrent && setState({ bundle, problem: null }),
      (error: unknown) => isCurrent && setState({ bundle: null, problem: wordsOf(error) }),
    )
    return () => {
      isCurrent = false
    }
  }, [id])
  return state
}

const QUALITIES = [
  ['draft', 'as drafts'],
  ['good', 'good'],
  ['final', 'final'],
  ['later', 'later'],
] as const

interface OneProps {
  readonly project: Project
  readonly offered: OfferedRecipe
}

function OneRecipe({ project, offered }: OneProps) {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar()
  const { bundle, problem } = useBundle(offered.id)
  const [picture, setPicture] = useState(0)
  const [given, setGiven] = useState<Answers>(new Map())
  const [quality, setQuality] = useState<(typeof QUALITIES)[number][0]>('good')
  const { models, groups } = project
  const recipe = bundle?.recipe
  const matches = useMemo(
    () => (recipe ? matchRecipe(recipe, { models, groups }) : []),
    [recipe, models, groups],
  )
  const answers = useMemo(() => new Map([...answersOf(matches), ...given]), [matches, given])
  const passes = useMemo(
    () => (recipe ? matchPasses(recipe, project, answers) : []),
    [recipe, project, answers],
  )
  const nothing = nothingToRender(project)
  const toRender = passes.filter(({ isRendered }) => !isRendered).length
  const hang = async () => {
    if (!bundle) return
    try {
      const wanted = await hangRecipeHere(bundle, answers)
      if (quality !== 'later' && nothing === null) queueRender(wanted, quality)
      setBench({ recipe: null })
    } catch (error) {
      enqueueSnackbar(wordsOf(error), { variant: 'error' })
    }
  }
  const saveToFile = async () => {
    const row = await database.recipes.get(offered.id)
    if (row) saveFile(`${safeFileName(row.name, 'recipe')}.zip`, row.file, 'application/zip')
  }
  const remove = async () => {
    await setRecipeDeleted(offered.id, true)
    setBench({ recipe: '' })
    const key = enqueueSnackbar(`Deleted the recipe ${offered.name}. It is kept for a month.`, {
      autoHideDuration: 15_000,
      action: (
        <Button
          color="inherit"
          onClick={() => {
            void setRecipeDeleted(offered.id, false)
            closeSnackbar(key)
          }}
        >
          Undo
        </Button>
      ),
    })
  }
  const shown = offered.pictures[Math.min(picture, offered.pictures.length - 1)]
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{offered.name}</h2>
        <button className="link" autoFocus onClick={() => setBench({ recipe: '' })}>
          All recipes
        </button>
      </div>
      {shown && <img className="recipe-picture" src={shown.url} alt={`${offered.name} on ${shown.of}`} />}
      {offered.pictures.length > 1 && (
        <div className="segments" role="radiogroup" aria-label="Shown on" style={{ margin: '8px 0' }}>
          {offered.pictures.map(({ of }, i) => (
            <button key={of} role="radio" aria-checked={picture === i} onClick={() => setPicture(i)}>
              {of}
            </button>
          ))}
        </div>
      )}
      {offered.note && <p>{offered.note}</p>}
      {offered.isOwn && (
        <p>
          <button
            className="link"
            style={{ paddingLeft: 0 }}
            data-testid="recipe-file"
            onClick={() => void saveToFile()}
          >
            Save as a file
          </button>
          <button className="link" data-testid="delete-recipe" onClick={() => void remove()}>
            Delete
          </button>
        </p>
      )}
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      {recipe && (
        <>
          <section className="section">
            <div className="section-head">
              <span>What it names</span>
            </div>
            <RecipeQuestions
              project={project}
              matches={matches}
              answers={answers}
              onAnswer={(id, keys) => setGiven((now) => new Map([...now, [id, keys]]))}
            />
          </section>
          <section className="section">
            <div className="section-head">
              <span>Passes</span>
              <span className="quiet">{toRender === 0 ? 'all are here' : `${toRender} to be rendered`}</span>
            </div>
            <ul className="recipe-passes">
              {passes.map(({ own, passId, isRendered }) => (
                <li key={own.id}>
                  <span title={passKind(own.kind).summary}>{own.name}</span>
                  <span className="quiet">
                    {isRendered ? 'here' : passId ? 'not rendered yet' : 'is added'}
                  </span>
                </li>
              ))}
            </ul>
          </section>
          <section className="section recipe-hang">
            <Button variant="contained" onClick={() => void hang()} data-testid="hang-recipe">
              Hang it
            </Button>
            {toRender > 0 && nothing === null && (
              <label>
                Render{' '}
                <select
                  className="plain-select"
                  value={quality}
                  onChange={(e) => setQuality(e.target.value as typeof quality)}
                >
                  {QUALITIES.map(([value, label]) => (
                    <option key={value} value={value}>
                      {label}
                    </option>
                  ))}
                </select>
              </label>
            )}
            {nothing !== null && <span className="quiet">{nothing}</span>}
          </section>
        </>
      )}
    </>
  )
}

'use client'

import { useRef, useState } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import { MODEL_ACCEPT } from '@/core/formats/model-readers'
import type { ProjectRow } from '@/data/database'
import type { GivenFile } from '@/state/given-files'
import { pickedFiles } from '@/state/given-files'
import { RecipeCard, RecipeCardStyles, useRecipes, type OfferedRecipe } from '@/ui/recipe-cards'

interface RecipeStripProps {
  readonly projects: readonly ProjectRow[]
  /** Begins a project with a recipe and models. */
  readonly onBegin: (recipeId: string, files: readonly GivenFile[]) => void
  /** Opens a project with the recipe beside its sheet. */
  readonly onPut: (recipeId: string, projectId: string) => void
}

/** Recipes to begin with: a look is chosen first, the model after it. */
export function RecipeStrip({ projects, onBegin, onPut }: RecipeStripProps) {
  const { own, ready } = useRecipes()
  const [chosen, setChosen] = useState<OfferedRecipe | null>(null)
  return (
    <section aria-labelledby="recipes-head">
      <RecipeCardStyles />
      <div className="projects-head">
        <h2 id="recipes-head" className="display">
          Begin with a recipe
        </h2>
        <span className="quiet">A finished look, put on your own model</span>
      </div>
      <div className="recipe-strip" role="group" aria-label="Recipes" tabIndex={-1}>
        {[...own, ...ready].map((recipe) => (
          <RecipeCard key={recipe.id} recipe={recipe} onChoose={() => setChosen(recipe)} />
        ))}
      </div>
      {chosen && (
        <BeginDialog
          recipe={chosen}
          projects={projects}
          onBegin={(files) => onBegin(chosen.id, files)}
          onPut={(id) => onPut(chosen.id, id)}
          onClose={() => setChosen(null)}
        />
      )}
    </section>
  )
}

interface BeginProps {
  readonly recipe: OfferedRecipe
  readonly projects: readonly ProjectRow[]
  readonly onBegin: (files: readonly GivenFile[]) => void
  readonly onPut: (projectId: string) => void
  readonly onClose: () => void
}

function BeginDialog({ recipe, projects, onBegin, onPut, onClose }: BeginProps) {
  const fileRef = useRef<HTMLInputElement>(null)
  const [projectId, setProjectId] = useState(projects[0]?.id ?? '')
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="begin-title">
      <DialogContent>
        <h2 id="begin-title" className="display begin-title">
          {recipe.name}
        </h2>
        <p style={{ margin: '2px 0 12px' }}>{recipe.note}</p>
        <div className="begin-pictures">
          {recipe.pictures.map(({ of, url }) => (
            <figure key={of}>
              <img src={url} alt={`${recipe.name} on ${of}`} />
              <figcaption className="quiet">{of}</figcaption>
            </figure>
          ))}
        </div>
        <div className="begin-ways">
          <Button variant="contained" autoFocus onClick={() => fileRef.current?.click()}>
            Choose model files
          </Button>
          {projects.length > 0 && (
            <span>
              or put it on{' '}
              <select
                className="plain-select"
                aria-label="Project"
                value={projectId}
                onChange={(e) => setProjectId(e.target.value)}
              >
                {projects.map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
              </select>{' '}
              <button className="link" data-testid="put-on-project" onClick={() => onPut(projectId)}>
                Open it with the recipe
              </button>
            </span>
          )}
          <span className="spacer" />
          <Button onClick={onClose}>Close</Button>
        </div>
        <input
          ref={fileRef}
          type="file"
          multiple
          accept={MODEL_ACCEPT}
          hidden
          data-testid="begin-input"
          onChange={(e) => {
            const files = pickedFiles(e.target.files ?? [])
            if (files.length > 0) onBegin(files)
          }}
        />
      </DialogContent>
    </Dialog>
  )
}

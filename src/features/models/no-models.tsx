'use client'

import Button from '@mui/material/Button'
import { useImportStore } from '@/state/import-models'
import { ImportProgress } from './import-progress'

interface NoModelsProps {
  readonly onFiles: () => void
  readonly onFolder: () => void
  readonly onDemo: () => void
}

/** What a project without models shows: how to bring one in. */
export function NoModels({ onFiles, onFolder, onDemo }: NoModelsProps) {
  const isBusy = useImportStore((s) => s.progress !== null)
  return (
    <div className="empty">
      <h2 className="display">Bring in a model</h2>
      <p>
        Drop OBJ, glTF, GLB, PLY or STL here, with the pictures and libraries that belong to them: as files,
        as a folder or as a zip. Polygons stay polygons, and every object becomes a part you can mask by
        later.
      </p>
      {isBusy ? (
        <ImportProgress />
      ) : (
        <div style={{ display: 'flex', gap: 10 }}>
          <Button variant="contained" onClick={onFiles}>
            Choose files
          </Button>
          <Button variant="outlined" onClick={onFolder}>
            Choose a folder
          </Button>
          <Button variant="outlined" onClick={onDemo} data-testid="add-demo-model">
            Use the demo tide kiosk
          </Button>
        </div>
      )}
    </div>
  )
}

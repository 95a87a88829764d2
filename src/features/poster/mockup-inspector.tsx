'use client'

import { useState } from 'react'
import { safeFileName } from '@/core/formats/safe-file-name'
import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { sheetFormatExtensions } from '@/core/sheet/export-sheet'
import { resizeSheet } from '@/core/sheet/resize-sheet'
import type { Project, ProjectSheet } from '@/data/project-schema'
import { useActions } from '@/state/actions'
import { removeMockup, renamePage } from '@/state/poster-actions'
import { changeSheet } from '@/state/sheet-actions'
import { exportSheetFile } from '@/state/sheet-sync'
import { ColourRow } from '@/ui/colour-row'
import { NameRow } from '@/ui/name-row'
import { NumberField } from '@/ui/number-field'
import { SelectRow } from '@/ui/select-row'
import { OutPress } from './out-press'
import { SheetLayers } from './sheet-layers'
import { useFileExport } from './use-file-export'

interface MockupInspectorProps {
  readonly project: Project
  readonly sheet: ProjectSheet
}

const FORMATS = { png8: 'PNG, 8 bit', png16: 'PNG, 16 bit', jpeg: 'JPEG' } as const
type Format = keyof typeof FORMATS

/** A mock-up as a whole: what lies in it, its size, and its way out. */
export function MockupInspector({ project, sheet }: MockupInspectorProps) {
  const side = (label: string, axis: 'width' | 'height') => (
    <NumberField
      label={label}
      value={sheet[axis]}
      min={64}
      max={MAX_PICTURE_SIDE}
      step={1}
      unit="px"
      logarithmic
      onChange={(value) =>
        changeSheet(
          'size of the mock-up',
          (draft) =>
            resizeSheet(draft, { width: draft.width, height: draft.height, [axis]: Math.round(value) }),
          `mock-up ${axis}`,
        )
      }
    />
  )
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{sheet.name}</h2>
        <span className="quiet">mock-up</span>
      </div>
      <SheetLayers sheet={sheet} title="In the picture" />
      <section className="section">
        <div className="section-head">
          <span>Picture</span>
          <span>
            <button
              className="link"
              onClick={() =>
                changeSheet('turn the mock-up', (draft) =>
                  resizeSheet(draft, { width: draft.height, height: draft.width }),
                )
              }
            >
              {sheet.width > sheet.height ? 'Stand it up' : 'Lay it down'}
            </button>
          </span>
        </div>
        {side('Width', 'width')}
        {side('Height', 'height')}
        <ColourRow
          id="mockup-ground"
          label="Background"
          value={sheet.background ?? '#ffffff'}
          onChange={(colour) =>
            changeSheet('background', (draft) => void (draft.background = colour), 'mock-up background')
          }
        />
      </section>
      <MockupOut project={project} sheet={sheet} />
      <section className="section">
        <div className="section-head">
          <span>Mock-up</span>
          <span>
            <button className="link" onClick={removeMockup} data-testid="remove-mockup">
              Remove it
            </button>
          </span>
        </div>
        <NameRow key={sheet.id} label="Name" id="mockup-name" name={sheet.name} onRename={renamePage} />
      </section>
    </>
  )
}

/** The mock-up as a file. */
function MockupOut({ project, sheet }: MockupInspectorProps) {
  const [format, setFormat] = useState<Format>('png8')
  const out = useFileExport()
  const poster = project.posters.find(({ id }) => id === sheet.mockupOf)?.name ?? project.name
  const file = `${safeFileName(poster)}_${safeFileName(sheet.name)}.${sheetFormatExtensions[format]}`
  const press = () =>
    void out.run(
      [
        {
          name: file,
          media: format === 'jpeg' ? 'image/jpeg' : 'image/png',
          make(signal, tell) {
            const size = { width: sheet.width, height: sheet.height }
            const message = { type: 'export', format, size, transparent: false } as const
            return exportSheetFile(project, sheet, message, tell, signal)
          },
        },
      ],
      file,
    )
  useActions('Mock-up files', [{ id: 'export', label: 'Export the mock-up', keys: 'e', run: press }])
  return (
    <section className="section">
      <div className="section-head">Out</div>
      <SelectRow
        id="mockup-format"
        label="As"
        value={format}
        onChange={(picked) => setFormat(picked as Format)}
      >
        {Object.entries(FORMATS).map(([value, label]) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
      </SelectRow>
      <p className="quiet" style={{ overflowWrap: 'anywhere' }}>
        {file}
      </p>
      <OutPress out={out} label="Export the picture" onPress={press} />
    </section>
  )
}

'use client'

import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { changeSheet, setSheetSize } from '@/state/sheet-actions'
import { NumberField } from '@/ui/number-field'
import { ColourRow } from '@/ui/colour-row'
import { SelectRow } from '@/ui/select-row'
import { SwitchRow } from '@/ui/switch-row'
import { KeptStates } from './kept-states'
import { beginMaking } from './making'
import { SheetDiffers } from './sheet-differs'
import { SheetsSection } from './sheets-section'

/** The sheet itself, when no layer is chosen. */
export function SheetInspector({ project }: { project: Project }) {
  const sheet = activeSheet(project)
  const { frame } = activeShot(project)
  return (
    <>
      <div className="inspector-head">
        <h2 className="display">{sheet.name}</h2>
        <span className="quiet">sheet</span>
      </div>
      <SheetsSection project={project} />
      <SheetDiffers project={project} />
      <KeptStates project={project} />
      <section className="section">
        {(['width', 'height'] as const).map((side) => (
          <NumberField
            key={side}
            label={side === 'width' ? 'Width' : 'Height'}
            value={sheet[side]}
            min={64}
            max={MAX_PICTURE_SIDE}
            step={1}
            unit="px"
            defaultValue={frame[side]}
            logarithmic
            onChange={(v) => setSheetSize({ width: sheet.width, height: sheet.height, [side]: v })}
          />
        ))}
        <SelectRow
          id="space"
          label="Blend in"
          value={sheet.blendSpace}
          onChange={(picked) =>
            changeSheet('blend space', (s) => void (s.blendSpace = picked as 'display' | 'linear'))
          }
        >
          <option value="display">Display values</option>
          <option value="linear">Linear light</option>
        </SelectRow>
        <SwitchRow
          label="Background"
          checked={sheet.background !== null}
          onChange={(v) => changeSheet('background', (s) => void (s.background = v ? '#ffffff' : null))}
        />
        {sheet.background !== null && (
          <ColourRow
            id="background"
            label="Colour"
            value={sheet.background}
            onChange={(colour) =>
              changeSheet('background', (s) => void (s.background = colour), 'background')
            }
          />
        )}
      </section>
      <section className="section quiet">
        Choose a card in the rack to change its layer. Click the proof to read which part is there.
        {sheet.roots.length > 0 && (
          <p style={{ margin: '8px 0 0' }}>
            <button className="link" onClick={() => beginMaking(sheet)}>
              How it was made, layer by layer
            </button>
          </p>
        )}
      </section>
    </>
  )
}

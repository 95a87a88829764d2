'use client'

import { MAX_PICTURE_SIDE } from '@/core/scene/camera'
import { activeSheet, activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { changeSheet, setSheetSize } from '@/state/sheet-actions'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'
import { KeptStates } from './kept-states'
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
        <div className="row">
          <label htmlFor="space">Blend in</label>
          <select
            id="space"
            className="plain-select wide"
            value={sheet.blendSpace}
            onChange={(e) =>
              changeSheet('blend space', (s) => void (s.blendSpace = e.target.value as 'display' | 'linear'))
            }
          >
            <option value="display">Display values</option>
            <option value="linear">Linear light</option>
          </select>
        </div>
        <SwitchRow
          label="Background"
          checked={sheet.background !== null}
          onChange={(v) => changeSheet('background', (s) => void (s.background = v ? '#ffffff' : null))}
        />
        {sheet.background !== null && (
          <div className="row">
            <label htmlFor="background">Colour</label>
            <span className="wide" style={{ textAlign: 'right' }}>
              <input
                id="background"
                type="color"
                className="swatch"
                value={sheet.background.slice(0, 7)}
                onChange={(e) =>
                  changeSheet('background', (s) => void (s.background = e.target.value), 'background')
                }
              />
            </span>
          </div>
        )}
      </section>
      <section className="section quiet">
        Choose a card in the rack to change its layer. Click the proof to read which part is there.
      </section>
    </>
  )
}

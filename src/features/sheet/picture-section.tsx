'use client'

import { memo } from 'react'
import type { ContentOf } from '@/core/sheet/contents/registry'
import { cornersOf, laidOut } from '@/core/sheet/picture-box'
import { useProjectStore } from '@/state/project-store'
import { useSheetSize } from '@/state/use-sheet-size'
import { askSheet } from '@/state/sheet-sync'
import { NumberField } from '@/ui/number-field'
import { SwitchRow } from '@/ui/switch-row'
import { changeContent } from './layer-actions'

interface PictureSectionProps {
  readonly layerId: string
  readonly content: ContentOf<'picture'>
}

/** Where a picture lies on the sheet; its handles are on the proof. */
export const PictureSection = memo(function PictureSection({ layerId, content }: PictureSectionProps) {
  const sheet = useSheetSize()
  const change = (label: string, apply: (own: PictureSectionProps['content']) => void, merge?: string) =>
    changeContent(layerId, 'picture', label, apply, merge)
  const lay = async (fit: Parameters<typeof laidOut>[2]) => {
    const { project } = useProjectStore.getState()
    const size = project && (await askSheet(project, (worker) => worker.pictureSize(content.pictureId)))
    if (size) change('lay the picture out', (own) => void Object.assign(own, laidOut(size, sheet, fit)))
  }
  const { width, height } = sheet
  const px = [content.size[0] * width, content.size[1] * height]
  return (
    <section className="section">
      <div className="section-head">
        <span>Placed</span>
        <span>
          <button className="link" onClick={() => void lay('whole')}>
            Whole
          </button>
          <button className="link" onClick={() => void lay('fill')}>
            Filling
          </button>
          <button className="link" onClick={() => void lay('own size')}>
            Own size
          </button>
        </span>
      </div>
      <NumberField
        label="Size"
        value={Math.round(px[0])}
        min={1}
        max={64 * width}
        step={1}
        unit="px"
        logarithmic
        defaultValue={width}
        note="Its width before it is turned; its height follows"
        onChange={(v) =>
          change(
            'scale picture',
            (own) => {
              const by = v / px[0]
              own.size = [own.size[0] * by, Math.min(64, Math.max(0.001, own.size[1] * by))]
            },
            'size',
          )
        }
      />
      <SwitchRow
        label="Four corners"
        note="Each corner is dragged by itself, as a sheet seen in perspective"
        checked={content.corners !== undefined}
        onChange={(on) =>
          change(on ? 'free the corners' : 'straighten the picture', (own) => {
            if (!on) delete own.corners
            else own.corners = cornersOf(own, sheet)
          })
        }
      />
      <NumberField
        label="Turned"
        value={content.turnDeg}
        min={-180}
        max={180}
        step={0.1}
        unit="°"
        defaultValue={0}
        onChange={(v) => change('turn picture', (own) => void (own.turnDeg = v), 'turn')}
      />
    </section>
  )
})

'use client'

import { activeShot } from '@/data/active-shot'
import { beforeOf } from '@/data/before-passes'
import type { Project, ProjectPass } from '@/data/project-schema'
import { useViewStore } from '@/state/view-store'
import { CompareBySelect, OverPicture } from '@/ui/over-picture'
import { PictureView } from '@/ui/picture-view'
import { usePassCanvas } from './pass-canvas'

interface BeforeAfterProps {
  readonly project: Project
  readonly pass: ProjectPass
  readonly onBack: () => void
}

/** A pass as it was, over what it is now. */
export function BeforeAfter({ project, pass, onBack }: BeforeAfterProps) {
  const { width, height } = activeShot(project).frame
  const seam = useViewStore((s) => s.seam) ?? 0.5
  const before = beforeOf(project, pass.id)
  return (
    <PictureView
      key={pass.id}
      width={width}
      height={height}
      picture={<PassPicture project={project} pass={pass} label={`${pass.name}, now`} />}
      status={
        <span style={{ pointerEvents: 'auto' }}>
          <b>{pass.name}</b>, before and now, by <CompareBySelect />{' '}
          <button className="link" style={{ color: 'inherit', textDecoration: 'underline' }} onClick={onBack}>
            Contact sheet
          </button>
        </span>
      }
    >
      {before && (
        <OverPicture left="Before" right="Now" seam={seam}>
          <PassPicture project={project} pass={before} label={before.name} />
        </OverPicture>
      )}
    </PictureView>
  )
}

function PassPicture({
  project,
  pass,
  label,
}: {
  readonly project: Project
  readonly pass: ProjectPass
  readonly label: string
}) {
  const { width, height } = activeShot(project).frame
  const { canvasRef } = usePassCanvas(project, pass, { x: 0, y: 0, width, height }, width, height)
  return <canvas ref={canvasRef} role="img" aria-label={label} style={{ width: '100%', height: '100%' }} />
}

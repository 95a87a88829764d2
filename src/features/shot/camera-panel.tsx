'use client'

import { activeShot } from '@/data/active-shot'
import type { Project } from '@/data/project-schema'
import { CameraPanelStyles } from './camera-panel-styles'
import { FocusSection } from './focus-section'
import { GuidesSection } from './guides-section'
import { LensSection } from './lens-section'
import { PictureSection } from './picture-section'
import type { Pointing } from './pointing'
import { ViewSection } from './view-section'

interface CameraPanelProps {
  readonly project: Project
  readonly setPointing: (pointing: Pointing) => void
}

/** Where the camera stands, its lens, and the picture's size. */
export function CameraPanel({ project, setPointing }: CameraPanelProps) {
  const shot = activeShot(project)
  return (
    <>
      <CameraPanelStyles />
      <fieldset className="plain-fieldset" disabled={shot.locked}>
        <ViewSection project={project} />
        <LensSection shot={shot} />
        <PictureSection shot={shot} />
      </fieldset>
      <FocusSection shot={shot} setPointing={setPointing} />
      <GuidesSection shot={shot} />
    </>
  )
}

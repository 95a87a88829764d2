'use client'

import { useId, useRef } from 'react'
import { useSnackbar } from 'notistack'
import type { Light } from '@/core/scene/light-rig'
import { storageProblem } from '@/data/project-repository'
import type { Project } from '@/data/project-schema'
import { changeLight, setDomePicture } from '@/state/rig-actions'
import { ColourRow } from '@/ui/colour-row'
import { SelectRow } from '@/ui/select-row'
import { LightNumbers } from './light-numbers'

interface DomeLightProps {
  readonly project: Project
  readonly light: Extract<Light, { kind: 'dome' }>
}

/** What only a dome has: its sky. */
export function DomeLight({ project, light }: DomeLightProps) {
  const id = useId()
  const { enqueueSnackbar } = useSnackbar()
  const pictureInput = useRef<HTMLInputElement>(null)
  const change = (label: string, patch: Partial<Light>) => changeLight(light.id, label, patch)
  return (
    <>
      <SelectRow
        id={`${id} look`}
        label="Sky"
        value={light.look}
        onChange={(picked) => {
          const look = picked as typeof light.look
          if (look === 'picture' && light.pictureId === null) pictureInput.current?.click()
          else change('dome', { look })
        }}
      >
        <option value="one">One colour</option>
        <option value="gradient">Above and below</option>
        <option value="picture">Picture (HDR, EXR …)</option>
      </SelectRow>
      {light.look === 'gradient' && (
        <ColourRow
          id={`${id} below`}
          label="From below"
          value={light.below}
          onChange={(below) => change('light from below', { below })}
        />
      )}
      {light.look === 'picture' && (
        <>
          <LightNumbers light={light} names={['rotationDeg']} />
          <button className="link" onClick={() => pictureInput.current?.click()}>
            {project.pictures.find((p) => p.id === light.pictureId)?.name ?? 'Choose a picture'}
          </button>
        </>
      )}
      <input
        ref={pictureInput}
        type="file"
        hidden
        accept=".hdr,.exr,image/*"
        data-testid="dome-picture"
        onChange={(e) => {
          const file = e.target.files?.[0]
          e.target.value = ''
          if (file)
            void setDomePicture(light.id, file).catch((error: unknown) =>
              enqueueSnackbar(storageProblem(error), { variant: 'error' }),
            )
        }}
      />
    </>
  )
}

import type { Draft } from 'immer'
import type { Light, LightKind, Rig } from '@/core/scene/light-rig'
import { MOST_LIGHTS, newLight } from '@/core/scene/light-rig'
import type { ReadyRig } from '@/core/scene/ready-rigs'
import { fromReadyRig } from '@/core/scene/ready-rigs'
import { activeShot, rigOf } from '@/data/active-shot'
import { newId } from '@/data/new-project'
import { storeFile } from '@/data/storage-service'
import { changeProject, useProjectStore } from './project-store'
import { setBench } from './view-store'

/** What can be done to the rig of the shot at work. */

export const changeRig = (label: string, apply: (rig: Draft<Rig>) => void, merge?: string): void =>
  changeProject(label, (draft) => apply(rigOf(draft, activeShot(draft)) as Draft<Rig>), merge)

/** Changes one light. Equal labels in quick succession make one step. */
export const changeLight = (id: string, label: string, patch: Partial<Light>): void =>
  changeRig(
    label,
    (rig) => {
      const at = rig.lights.findIndex((light) => light.id === id)
      if (at >= 0) rig.lights[at] = { ...rig.lights[at], ...patch } as Draft<Light>
    },
    `${id} ${label}`,
  )

export function addLight(kind: LightKind): void {
  const id = newId()
  changeRig('add light', (rig) => {
    if (rig.lights.length >= MOST_LIGHTS) return
    const light = newLight(kind, id)
    const taken = new Set(rig.lights.map((other) => other.name))
    let name = light.name
    for (let n = 2; taken.has(name); n++) name = `${light.name} ${n}`
    rig.lights.push({ ...light, name } as Draft<Light>)
  })
  setBench({ lightId: id })
}

export const removeLight = (id: string): void =>
  changeRig('remove light', (rig) => void (rig.lights = rig.lights.filter((light) => light.id !== id)))

export function duplicateLight(id: string): void {
  const copy = newId()
  changeRig('duplicate light', (rig) => {
    const light = rig.lights.find((l) => l.id === id)
    if (light && rig.lights.length < MOST_LIGHTS)
      rig.lights.push({ ...light, id: copy, name: `${light.name} copy` })
  })
  setBench({ lightId: copy })
}

/** A new rig from a ready one, or a copy of the one at work; the shot takes it. */
export function addRig(ready: ReadyRig | null): void {
  changeProject(ready ? `rig: ${ready.name}` : 'copy of the rig', (draft) => {
    const shot = activeShot(draft)
    const own = rigOf(draft, shot) as Rig
    const rig = ready
      ? fromReadyRig(ready, newId)
      : {
          ...own,
          id: newId(),
          name: `${own.name} copy`,
          lights: own.lights.map((l) => ({ ...l, id: newId() })),
        }
    draft.rigs.push(rig as Draft<Rig>)
    shot.rigId = rig.id
  })
  setBench({ lightId: null })
}

export const useRig = (rigId: string): void =>
  changeProject('light with another rig', (draft) => void (activeShot(draft).rigId = rigId))

/** Removes the rig at work; shots that used it take the first that is left. */
export const removeRig = (): void =>
  changeProject('remove rig', (draft) => {
    if (draft.rigs.length < 2) return
    const { rigId } = activeShot(draft)
    draft.rigs = draft.rigs.filter((rig) => rig.id !== rigId)
    for (const shot of draft.shots) if (shot.rigId === rigId) shot.rigId = draft.rigs[0].id
    for (const pass of draft.passes) {
      if (pass.rigId !== rigId) continue
      // The lights it held went with their rig.
      pass.rigId = null
      pass.members.lights = null
    }
  })

/** Takes a picture of surroundings in for a dome. @throws when it cannot be stored. */
export async function setDomePicture(lightId: string, file: File): Promise<void> {
  const { project } = useProjectStore.getState()
  if (!project) return
  const [pictureId, fileId] = [newId(), newId()]
  await storeFile(project.id, fileId, file.name, new Uint8Array(await file.arrayBuffer()))
  changeProject('dome picture', (draft) => {
    draft.pictures.push({ id: pictureId, name: file.name, fileId })
    for (const light of rigOf(draft, activeShot(draft)).lights as Draft<Light>[])
      if (light.id === lightId && light.kind === 'dome') {
        light.look = 'picture'
        light.pictureId = pictureId
      }
  })
}

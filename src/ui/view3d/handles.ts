import * as THREE from 'three'
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js'
import type { Placement } from '@/core/scene/placement'
import type { ThreeView } from './three-view'

export const HANDLES = ['move', 'turn', 'scale'] as const
export type HandleKind = (typeof HANDLES)[number]

const MODES = { move: 'translate', turn: 'rotate', scale: 'scale' } as const
const SMALLEST = 1e-4
/** Of the axes X, Y and Z, and of the one in hand. */
const COLOURS = [0xc0562f, 0x6f8a3c, 0x3f7391, 0xf6e3b4] as const

/** Handles in the view by which one model is placed. */
export class PlaceHandles {
  private readonly controls: TransformControls
  private readonly held = new THREE.Object3D()
  private shown = false

  /** @param onPlace told while the hand drags. */
  constructor(
    private readonly view: ThreeView,
    onPlace: (placement: Placement) => void,
  ) {
    this.controls = new TransformControls(view.view, view.canvas)
    this.controls.setSize(0.85)
    this.controls.setColors(...COLOURS)
    // Placements turn about Y, then X, then Z.
    this.held.rotation.order = 'YXZ'
    this.controls.addEventListener('dragging-changed', ({ value }) => {
      view.busy = value === true
    })
    this.controls.addEventListener('objectChange', () => onPlace(this.placement))
    this.controls.addEventListener('change', () => view.draw())
  }

  private get placement(): Placement {
    const { position: p, rotation: r, scale: s } = this.held
    const round = (v: number) => Number(v.toFixed(6))
    const degrees = (v: number) => Number(((v * 180) / Math.PI).toFixed(3)) + 0
    const factor = (v: number) => Math.max(SMALLEST, Math.abs(round(v)))
    return {
      position: [round(p.x), round(p.y), round(p.z)],
      rotationDeg: [degrees(r.x), degrees(r.y), degrees(r.z)],
      scale: [factor(s.x), factor(s.y), factor(s.z)],
    }
  }

  /** Shows the handles at a model's place; null puts them away. */
  show(kind: HandleKind | null, placement: Placement | null): void {
    const { scene } = this.view
    const wanted = kind !== null && placement !== null
    this.controls.camera = this.view.view
    if (wanted !== this.shown) {
      this.shown = wanted
      if (wanted) {
        scene.add(this.held, this.controls.getHelper())
        this.controls.attach(this.held)
      } else {
        this.controls.detach()
        scene.remove(this.held, this.controls.getHelper())
      }
    }
    if (wanted) {
      this.controls.setMode(MODES[kind])
      this.controls.setSpace(kind === 'move' ? 'world' : 'local')
      if (!this.view.busy) {
        this.held.position.set(...placement.position)
        const [x, y, z] = placement.rotationDeg.map((d) => (d * Math.PI) / 180)
        this.held.rotation.set(x, y, z, 'YXZ')
        this.held.scale.set(...placement.scale)
      }
      this.held.updateMatrixWorld(true)
    }
    this.view.draw()
  }

  /** The camera moved: handles keep their size on the screen. */
  refresh(): void {
    this.controls.camera = this.view.view
    this.view.draw()
  }

  dispose(): void {
    this.show(null, null)
    this.controls.dispose()
  }
}

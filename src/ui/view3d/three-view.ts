// One file: one view, whose scene, camera and picture every method changes.
import * as THREE from 'three'
import type { Bounds } from '@/core/geometry/bounds'
import type { Vec3 } from '@/core/math/vec3'
import { oklchToRgb } from '@/core/math/oklab'
import type { Camera, Frame } from '@/core/scene/camera'
import { cameraBasis, plainLens } from '@/core/scene/camera'
import type { Light } from '@/core/scene/light-rig'
import { linearColour } from '@/core/scene/rendered-light'
import { sightLine, slide, walkRound, approach } from '@/core/scene/walk-camera'
import { lightDirection } from '@/core/passes/placed-light'
import type { ProjectModel } from '@/data/project-schema'
import type { LoadedModel } from '@/engine/read-model-in-worker'
import type { Paint } from './shown-model'
import { LAYER, ShownModel } from './shown-model'
import { SteppedDrawing, trianglesOf } from './stepped-drawing'

export interface ThreeViewEvents {
  /** The person moves the camera; `done` when the hand lets go. */
  readonly onMoved: (camera: Camera, done: boolean) => void
  /** The person tries to move a locked camera. */
  readonly onRefused: () => void
  /** A press that did not become a drag, 0…1 across and down the frame. */
  readonly onPress?: (x01: number, y01: number, event: PointerEvent) => void
}

/** Where the frame lies on the canvas, in CSS pixels. */
export interface FrameRect {
  readonly left: number
  readonly top: number
  readonly width: number
  readonly height: number
}

/** What lies under a point of the view. */
export interface ViewHit {
  readonly partKey: string
  readonly point: Vec3
  /** Of the face, towards the viewer, unit length. */
  readonly normal: Vec3
}

/** Degrees walked per share of the frame's height dragged. */
const DEGREES_PER_HEIGHT = 160
const PRESS_PX = 4
/** Time of a frame that new pieces may take. */
const TAKE_MS = 8
/** A view that stood still for so long is drawn in full. */
const REST_MS = 120

/**
 * The interactive view: draws when something changed, with the very projection the passes are rendered with, and tells
 * when the person moves the camera.
 */
export class ThreeView {
  readonly scene = new THREE.Scene()
  private readonly renderer: THREE.WebGLRenderer
  private readonly lens = new THREE.PerspectiveCamera()
  private readonly parallel = new THREE.OrthographicCamera()
  private readonly shown = new Map<string, ShownModel>()
  private readonly lamps = new THREE.Group()
  private readonly picture: SteppedDrawing
  private frameRequest = 0
  /** What is seen changed since it was drawn, and when it was drawn then. */
  private isStale = true
  private changedAt = 0
  /** A picture in steps is under way. */
  private isStepping = false
  /** The programs of the graphics card are asked for. */
  private isReady = false
  /** Pieces that were not on the graphics card in the last frame. */
  private waiting = 0
  private camera: Camera = { ...plainLens(), eye: [0, 0, 5], target: [0, 0, 0] }
  private frame: Frame = { width: 16, height: 16 }
  private rect: FrameRect = { left: 0, top: 0, width: 16, height: 16 }
  private size = { width: 16, height: 16 }
  private reach = 10
  private locked = false
  private isBusy = false
  private readonly pointers = new Map<number, { x: number; y: number }>()
  private drag: { button: number; startX: number; startY: number; moved: boolean } | null = null
  private wheelEnd: ReturnType<typeof setTimeout> | null = null
  private readonly onWheel = (event: WheelEvent) => this.wheel(event)

  constructor(
    readonly canvas: HTMLCanvasElement,
    private readonly events: ThreeViewEvents,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, alpha: true })
    this.renderer.setClearColor(0x000000, 0)
    this.picture = new SteppedDrawing(this.renderer)
    this.scene.add(this.lamps)
    this.lens.matrixAutoUpdate = this.parallel.matrixAutoUpdate = false
    this.setLamps(null)
    canvas.addEventListener('pointerdown', this.down)
    canvas.addEventListener('pointermove', this.move)
    canvas.addEventListener('pointerup', this.up)
    canvas.addEventListener('pointercancel', this.up)
    canvas.addEventListener('contextmenu', prevent)
    canvas.addEventListener('wheel', this.onWheel, { passive: false })
  }

  /** Set while something else drags, such as a handle: the camera stays, and no press is told of. */
  get busy(): boolean {
    return this.isBusy
  }
  set busy(value: boolean) {
    this.isBusy = value
    this.pointers.clear()
    this.drag = null
  }

  /** The camera as drawn; handles need it. */
  get view(): THREE.Camera {
    return this.camera.orthoHeight === null ? this.lens : this.parallel
  }

  setCamera(camera: Camera, locked: boolean): void {
    this.camera = camera
    this.locked = locked
    this.aim()
  }

  /** @param rect the frame's place on the canvas; what lies round it is drawn too. */
  resize(width: number, height: number, frame: Frame, rect: FrameRect): void {
    this.size = { width, height }
    this.frame = frame
    this.rect = rect
    this.renderer.setPixelRatio(Math.min(2, window.devicePixelRatio))
    this.renderer.setSize(width, height, false)
    this.picture.resize(this.canvas.width, this.canvas.height)
    this.aim()
  }

  private aim(): void {
    const { rect, size } = this
    const basis = cameraBasis(this.camera, this.frame)
    const { right: r, up: u, back: b, eye: e } = basis
    const shown = basis.parallel ? this.parallel : this.lens
    shown.matrix.set(r[0], u[0], b[0], e[0], r[1], u[1], b[1], e[1], r[2], u[2], b[2], e[2], 0, 0, 0, 1)
    shown.matrix.decompose(shown.position, shown.quaternion, shown.scale)
    shown.updateMatrixWorld(true)
    // The frame's picture plane, carried on to the borders of the canvas.
    const perPixel = (2 * basis.halfHeight) / rect.height
    const left = basis.centreX - basis.halfWidth - rect.left * perPixel
    const top = basis.centreY + basis.halfHeight + rect.top * perPixel
    const right = left + size.width * perPixel
    const bottom = top - size.height * perPixel
    if (basis.parallel) {
      this.parallel.near = -20 * this.reach
      this.parallel.far = 40 * this.reach
      const { near, far } = this.parallel
      this.parallel.projectionMatrix.makeOrthographic(left, right, top, bottom, near, far)
    } else {
      const away = Math.hypot(...e.map((v, i) => v - this.camera.target[i]))
      const near = Math.max(away / 1000, 1e-5)
      this.lens.near = near
      this.lens.far = away + 400 * this.reach
      this.lens.projectionMatrix.makePerspective(
        left * near,
        right * near,
        top * near,
        bottom * near,
        near,
        this.lens.far,
      )
    }
    shown.projectionMatrixInverse.copy(shown.projectionMatrix).invert()
    this.draw()
  }

  /** Moves as a key press would: turns in degrees, a factor of distance, a slide in shares of the picture's height. */
  nudge(turnDeg: number, tiltDeg: number, zoom: number, slideX = 0, slideY = 0): void {
    if (this.locked) {
      this.events.onRefused()
      return
    }
    let camera = this.camera
    if (turnDeg !== 0 || tiltDeg !== 0) camera = walkRound(camera, turnDeg, tiltDeg)
    if (zoom !== 1) camera = approach(camera, zoom)
    if (slideX !== 0 || slideY !== 0) camera = slide(camera, this.frame, slideX, slideY)
    this.take(camera, true)
  }

  private take(camera: Camera, done: boolean): void {
    this.camera = camera
    this.aim()
    this.events.onMoved(camera, done)
  }

  /** A point of the canvas as 0…1 across and down the frame. */
  private toFrame(event: { clientX: number; clientY: number }): readonly [number, number] {
    const box = this.canvas.getBoundingClientRect()
    return [
      (event.clientX - box.left - this.rect.left) / this.rect.width,
      (event.clientY - box.top - this.rect.top) / this.rect.height,
    ]
  }

  private readonly down = (event: PointerEvent) => {
    if (this.busy) return
    this.canvas.setPointerCapture(event.pointerId)
    this.pointers.set(event.pointerId, { x: event.clientX, y: event.clientY })
    this.drag = { button: event.button, startX: event.clientX, startY: event.clientY, moved: false }
  }

  private readonly move = (event: PointerEvent) => {
    const before = this.pointers.get(event.pointerId)
    const { drag } = this
    if (!before || !drag || this.busy) return
    if (!drag.moved && Math.hypot(event.clientX - drag.startX, event.clientY - drag.startY) < PRESS_PX) return
    if (this.locked) {
      if (!drag.moved) this.events.onRefused()
      drag.moved = true
      return
    }
    drag.moved = true
    const others = [...this.pointers].filter(([id]) => id !== event.pointerId).map(([, p]) => p)
    const dx = (event.clientX - before.x) / this.rect.height
    const dy = (event.clientY - before.y) / this.rect.height
    this.pointers.set(event.pointerId, { x: event.clientX, y: event.clientY })
    let { camera } = this
    if (others.length === 1) {
      const [other] = others
      const span = (p: { x: number; y: number }) => Math.max(8, Math.hypot(p.x - other.x, p.y - other.y))
      camera = approach(camera, span(before) / span({ x: event.clientX, y: event.clientY }))
      camera = slide(camera, this.frame, -dx / 2, dy / 2)
    } else if (drag.button === 0 && !event.shiftKey)
      camera = walkRound(camera, -dx * DEGREES_PER_HEIGHT, dy * DEGREES_PER_HEIGHT)
    else camera = slide(camera, this.frame, -dx, dy)
    this.take(camera, false)
  }

  private readonly up = (event: PointerEvent) => {
    if (!this.pointers.delete(event.pointerId)) return
    const { drag } = this
    if (this.pointers.size > 0 || !drag) return
    this.drag = null
    if (drag.moved) {
      if (!this.locked) this.events.onMoved(this.camera, true)
    } else if (drag.button === 0 && !this.busy) this.events.onPress?.(...this.toFrame(event), event)
  }

  private wheel(event: WheelEvent): void {
    event.preventDefault()
    if (this.locked) {
      this.events.onRefused()
      return
    }
    this.take(approach(this.camera, Math.exp(event.deltaY * 0.0014)), false)
    if (this.wheelEnd) clearTimeout(this.wheelEnd)
    this.wheelEnd = setTimeout(() => this.events.onMoved(this.camera, true), 200)
  }

  /** @param models of the project; those not loaded yet are left out. */
  setModels(
    models: readonly ProjectModel[],
    loadedOf: (id: string) => LoadedModel | undefined,
    look: { chosen?: ReadonlySet<string>; solo?: ReadonlySet<string> | null; paint?: Paint } = {},
  ): void {
    const wanted = new Set(models.map((m) => m.id))
    for (const id of this.shown.keys()) if (!wanted.has(id)) this.drop(id)
    const keys = models.flatMap((m) => m.parts.map((p) => p.key))
    const place = new Map(keys.map((key, i) => [key, i]))
    const partColour = (key: string) => {
      const i = place.get(key) ?? 0
      return oklchToRgb([0.72, 0.55, 0.84][i % 3], [0.16, 0.13, 0.1][Math.floor(i / 3) % 3], i * 2.39996)
    }
    const { chosen = new Set<string>(), solo = null, paint = 'materials' } = look
    for (const model of models) {
      const loaded = loadedOf(model.id)
      if (!loaded) continue
      let shown = this.shown.get(model.id)
      if (shown && shown.loaded !== loaded) {
        this.drop(model.id)
        shown = undefined
      }
      if (!shown) {
        shown = new ShownModel(loaded, () => this.setModels(models, loadedOf, look))
        this.shown.set(model.id, shown)
        this.scene.add(shown.group)
        this.isReady = false
      }
      shown.update(model, { chosen, solo, paint, partColour })
    }
    this.draw()
  }

  private drop(id: string): void {
    const shown = this.shown.get(id)
    if (!shown) return
    this.scene.remove(shown.group)
    shown.dispose()
    this.shown.delete(id)
  }

  /** Says how large the subject is, so that nothing of it is cut off near or far. */
  setBounds(bounds: Bounds | null): void {
    if (!bounds) return
    const reach = Math.hypot(...bounds.max.map((v, axis) => v - bounds.min[axis])) || 1
    if (reach === this.reach) return
    this.reach = reach
    this.aim()
  }

  /** Lights of a rig as the card can do them, without shadows; null is a plain light from beside the camera. */
  setLamps(lights: readonly Light[] | null): void {
    this.lamps.clear()
    const basis = cameraBasis(this.camera, this.frame)
    if (!lights) {
      this.lamps.add(new THREE.HemisphereLight(0xe4ecf4, 0xb39c84, 1.3))
      const key = new THREE.DirectionalLight(0xfff3e0, 2.1)
      key.position.set(...lightDirection(basis, 'camera', -37, 36))
      this.lamps.add(key)
    }
    for (const light of lights ?? []) {
      if (!light.on) continue
      const [r, g, b] = linearColour(light.colour)
      const colour = new THREE.Color().setRGB(r, g, b, THREE.LinearSRGBColorSpace)
      if (light.kind === 'dome') {
        const below = light.look === 'gradient' ? new THREE.Color(light.below) : colour
        this.lamps.add(new THREE.HemisphereLight(colour, below, light.strength * Math.PI * 0.8))
        continue
      }
      const lamp = new THREE.DirectionalLight(colour, light.strength * Math.PI)
      lamp.position.set(...lightDirection(basis, light.tied, light.azimuthDeg, light.elevationDeg))
      this.lamps.add(lamp)
    }
    this.shineOnAll()
    this.draw()
  }

  private shineOnAll(): void {
    // A program is made for its lamps: they shine on whatever is drawn.
    for (const lamp of this.lamps.children) lamp.layers.enableAll()
  }

  /** Nothing but an even light: what is painted shows as it is. */
  setFlat(): void {
    this.lamps.clear()
    this.lamps.add(new THREE.AmbientLight(0xffffff, Math.PI))
    this.shineOnAll()
    this.draw()
  }

  /** What lies under a point of the frame, 0…1 across and down. */
  hit(x01: number, y01: number): ViewHit | null {
    const { origin, direction } = sightLine(this.camera, this.frame, x01, y01)
    const ray = new THREE.Raycaster(new THREE.Vector3(...origin), new THREE.Vector3(...direction))
    let best: { distance: number; hit: ViewHit } | null = null
    for (const shown of this.shown.values()) {
      for (const found of shown.hits(ray)) {
        if (best && found.distance >= best.distance) break
        if (!found.face || found.faceIndex === null || found.faceIndex === undefined) continue
        const partKey = shown.partOf(found.object, found.faceIndex)
        if (partKey === undefined) continue
        const n = found.face.normal
          .clone()
          .applyNormalMatrix(new THREE.Matrix3().getNormalMatrix(found.object.matrixWorld))
        if (n.dot(ray.ray.direction) > 0) n.negate()
        n.normalize()
        const { x, y, z } = found.point
        best = {
          distance: found.distance,
          hit: {
            partKey,
            point: [x, y, z],
            normal: [n.x, n.y, n.z],
          },
        }
        break
      }
    }
    return best?.hit ?? null
  }

  draw(): void {
    this.isStale = true
    cancelAnimationFrame(this.frameRequest)
    this.frameRequest = requestAnimationFrame(() => this.frameNow())
  }

  /**
   * One frame: hands what fits into it of new pieces to the graphics card, and draws what has changed. Where the card has no
   * time for all triangles between two frames it draws the coarse forms of heavy models, and all of them in steps once
   * the view stands still.
   */
  private frameNow(): void {
    const models = [...this.shown.values()]
    if (!this.isReady) {
      this.makePrograms(models)
      this.isReady = true
    }
    if (!this.picture.areProgramsMade || this.picture.isBusy) {
      this.frameRequest = requestAnimationFrame(() => this.frameNow())
      return
    }
    const before = this.waiting
    const waiting = this.takePieces(models)
    // The last piece is there: all of them are to be seen.
    if (before > 0 && waiting === 0) this.isStale = true
    this.waiting = waiting
    const isSeen = models.every((model) => model.isThere)
    const isWhole = isSeen && this.drawNow(models) && waiting === 0
    this.canvas.dataset.waiting = String(waiting)
    this.canvas.dataset.seen = String(models.length > 0 && isSeen)
    this.canvas.dataset.drawn = String(isWhole && models.length > 0)
    if (!isWhole) this.frameRequest = requestAnimationFrame(() => this.frameNow())
  }

  /** @returns whether the picture is whole. */
  private drawNow(models: readonly ShownModel[]): boolean {
    const { scene, view: camera, picture } = this
    const heavy = models.flatMap((model) => model.heavyMeshes)
    if (this.waiting === 0 && heavy.reduce((sum, mesh) => sum + trianglesOf(mesh), 0) <= picture.most) {
      if (this.isStale) picture.draw(scene, camera, [LAYER.always, LAYER.fine])
      this.isStale = this.isStepping = false
      return true
    }
    if (this.isStale) {
      picture.draw(scene, camera, [LAYER.always, LAYER.coarse])
      this.isStale = this.isStepping = false
      this.changedAt = performance.now()
      return false
    }
    if (this.isStepping) return picture.goOn(scene, camera)
    if (this.waiting > 0) return false
    if (performance.now() - this.changedAt < REST_MS) return false
    picture.begin(heavy)
    this.isStepping = true
    return false
  }

  /** Hands pieces to the graphics card for as long as fits into a frame; of what is not seen yet first. @returns how many wait. */
  private takePieces(models: readonly ShownModel[]): number {
    const begun = performance.now()
    while (performance.now() - begun < TAKE_MS) {
      const next = models.find((model) => !model.isThere) ?? models.find((model) => model.waiting > 0)
      if (!next) break
      this.picture.bringUp(this.scene, this.view, next.takePiece())
    }
    return models.reduce((sum, model) => sum + model.waiting, 0)
  }

  /** Has the programs made that models need, beside the page's own work. */
  private makePrograms(models: readonly ShownModel[]): void {
    const samples = models.flatMap((model) => model.sample() ?? [])
    for (const sample of samples) this.scene.add(sample)
    this.picture.makePrograms(this.scene, this.view)
    for (const sample of samples) this.scene.remove(sample)
  }

  dispose(): void {
    cancelAnimationFrame(this.frameRequest)
    if (this.wheelEnd) clearTimeout(this.wheelEnd)
    const { canvas } = this
    canvas.removeEventListener('pointerdown', this.down)
    canvas.removeEventListener('pointermove', this.move)
    canvas.removeEventListener('pointerup', this.up)
    canvas.removeEventListener('pointercancel', this.up)
    canvas.removeEventListener('contextmenu', prevent)
    canvas.removeEventListener('wheel', this.onWheel)
    for (const shown of this.shown.values()) shown.dispose()
    this.picture.dispose()
    this.renderer.dispose()
  }
}

const prevent = (event: Event) => event.preventDefault()

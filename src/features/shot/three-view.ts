import * as THREE from 'three'
import { OrbitControls } from 'three/addons/controls/OrbitControls.js'
import type { DisplayTriangles } from '@/core/geometry/display-triangles'
import type { Camera } from '@/core/scene/camera'
import type { ProjectModel } from '@/data/project-schema'
import { ShownModel } from './shown-model'

/** The interactive view: draws when something changed, tells when the person moved the camera. */
export class ThreeView {
  private readonly renderer: THREE.WebGLRenderer
  private readonly scene = new THREE.Scene()
  private readonly perspective = new THREE.PerspectiveCamera(30, 1, 0.01, 1e5)
  private readonly parallel = new THREE.OrthographicCamera(-1, 1, 1, -1, -1e4, 1e5)
  private camera: THREE.PerspectiveCamera | THREE.OrthographicCamera = this.perspective
  private controls: OrbitControls
  private readonly shown = new Map<string, ShownModel>()
  private frameRequest = 0
  private fovDeg = 30
  private aspect = 1

  constructor(
    canvas: HTMLCanvasElement,
    private readonly onMoved: (camera: Camera) => void,
    private readonly onRefused: () => void,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: true, alpha: true })
    this.renderer.setClearColor(0x000000, 0)
    const key = new THREE.DirectionalLight(0xfff3e0, 2.1)
    key.position.set(-0.6, 0.7, 0.8)
    this.perspective.add(key)
    this.parallel.add(key.clone())
    this.scene.add(new THREE.HemisphereLight(0xe4ecf4, 0xb39c84, 1.3), this.perspective, this.parallel)
    this.controls = this.makeControls()
    canvas.addEventListener('pointerdown', () => !this.controls.enabled && this.onRefused())
    canvas.addEventListener('wheel', (e) => {
      if (this.controls.enabled) return
      e.preventDefault()
      this.onRefused()
    })
  }

  private makeControls(): OrbitControls {
    const controls = new OrbitControls(this.camera, this.renderer.domElement)
    controls.enableDamping = false
    controls.addEventListener('change', () => this.draw())
    controls.addEventListener('end', () => this.tell())
    return controls
  }

  private tell(): void {
    const { position } = this.camera
    const { target } = this.controls
    this.onMoved({
      eye: [position.x, position.y, position.z],
      target: [target.x, target.y, target.z],
      fovDeg: this.fovDeg,
      orthoHeight: this.camera === this.parallel ? 2 / this.parallel.zoom : null,
    })
  }

  setCamera(camera: Camera, locked: boolean): void {
    const wanted = camera.orthoHeight === null ? this.perspective : this.parallel
    if (wanted !== this.camera) {
      this.camera = wanted
      this.controls.dispose()
      this.controls = this.makeControls()
    }
    this.fovDeg = camera.fovDeg
    this.camera.position.set(...camera.eye)
    this.controls.target.set(...camera.target)
    this.perspective.fov = camera.fovDeg
    if (camera.orthoHeight !== null) this.parallel.zoom = 2 / camera.orthoHeight
    const distance = this.camera.position.distanceTo(this.controls.target)
    this.perspective.near = distance / 500
    this.perspective.far = distance * 500
    this.camera.up.set(0, 1, 0)
    this.camera.lookAt(this.controls.target)
    this.controls.enabled = !locked
    this.fitFrame()
    this.draw()
  }

  /** Moves as a key press would: turns in degrees, a zoom factor, a pan in shares of the picture's height. */
  nudge(turnDeg: number, tiltDeg: number, zoom: number, panX = 0, panY = 0): void {
    if (!this.controls.enabled) {
      this.onRefused()
      return
    }
    const offset = this.camera.position.clone().sub(this.controls.target)
    const ball = new THREE.Spherical().setFromVector3(offset)
    ball.theta += (turnDeg * Math.PI) / 180
    ball.phi = Math.min(Math.PI - 0.01, Math.max(0.01, ball.phi - (tiltDeg * Math.PI) / 180))
    if (this.camera === this.perspective) ball.radius *= zoom
    else this.parallel.zoom /= zoom
    const height =
      this.camera === this.perspective
        ? 2 * ball.radius * Math.tan((this.fovDeg * Math.PI) / 360)
        : 2 / this.parallel.zoom
    const pan = new THREE.Vector3().setFromMatrixColumn(this.camera.matrix, 0).multiplyScalar(panX * height)
    pan.addScaledVector(new THREE.Vector3().setFromMatrixColumn(this.camera.matrix, 1), panY * height)
    this.controls.target.add(pan)
    this.camera.position.copy(this.controls.target).add(new THREE.Vector3().setFromSpherical(ball))
    this.camera.lookAt(this.controls.target)
    this.fitFrame()
    this.draw()
    this.tell()
  }

  /** @param chosen keys of parts to show in the accent colour. */
  setModels(
    models: readonly ProjectModel[],
    displayOf: (id: string) => DisplayTriangles | undefined,
    chosen: ReadonlySet<string> = new Set(),
  ): void {
    const wanted = new Set(models.map((m) => m.id))
    for (const [id, shown] of this.shown) {
      if (wanted.has(id)) continue
      this.scene.remove(shown.mesh)
      shown.dispose()
      this.shown.delete(id)
    }
    for (const model of models) {
      const display = displayOf(model.id)
      if (!display) continue
      let shown = this.shown.get(model.id)
      if (!shown || shown.display !== display) {
        if (shown) {
          this.scene.remove(shown.mesh)
          shown.dispose()
        }
        shown = new ShownModel(display)
        this.shown.set(model.id, shown)
        this.scene.add(shown.mesh)
      }
      shown.update(model, chosen)
    }
    this.draw()
  }

  resize(width: number, height: number): void {
    this.aspect = width / height
    this.renderer.setPixelRatio(window.devicePixelRatio)
    this.renderer.setSize(width, height, false)
    this.fitFrame()
    this.draw()
  }

  private fitFrame(): void {
    this.perspective.aspect = this.aspect
    this.parallel.left = -this.aspect
    this.parallel.right = this.aspect
    this.perspective.updateProjectionMatrix()
    this.parallel.updateProjectionMatrix()
  }

  private draw(): void {
    cancelAnimationFrame(this.frameRequest)
    this.frameRequest = requestAnimationFrame(() => this.renderer.render(this.scene, this.camera))
  }

  dispose(): void {
    cancelAnimationFrame(this.frameRequest)
    this.controls.dispose()
    for (const shown of this.shown.values()) shown.dispose()
    this.renderer.dispose()
  }
}

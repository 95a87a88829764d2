import * as THREE from 'three'
import { LAYER } from './shown-model'
import type { PieceMesh } from './shown-pieces'

/** A step that is done within so many milliseconds may be followed by a larger one; one that takes longer by a smaller one. */
const QUICK_MS = 24
const SLOW_MS = 60
const LEAST_TRIANGLES = 4096

/** Triangles of one step, from the time the last ones took: what a graphics card does in one frame, another needs seconds for. */
let trianglesAtOnce = 16_384

/** The card is slower or faster than thought by so much at a time. */
function learn(elapsedMs: number): void {
  if (elapsedMs < QUICK_MS) trianglesAtOnce *= 2
  else if (elapsedMs > SLOW_MS) trianglesAtOnce = Math.max(LEAST_TRIANGLES, trianglesAtOnce / 2)
}

/** Triangles of a piece that are seen. */
export const trianglesOf = (mesh: PieceMesh): number =>
  mesh.geometry.groups.reduce((sum, { count }) => sum + count / 3, 0)

/** Whether a program can be used without waiting for it; the library's types do not tell of it. */
const isMade = (program: THREE.WebGLProgram): boolean =>
  !('isReady' in program) || typeof program.isReady !== 'function' || Boolean(program.isReady())

/**
 * The picture of a view: drawn aside, then shown. One of many triangles is drawn in steps that the graphics card has time
 * for between two frames, and is shown when it is whole, so that the page never waits for it.
 */
export class SteppedDrawing {
  private readonly target: THREE.WebGLRenderTarget
  /** Where pieces are drawn only so that the graphics card has them. */
  private readonly dock = new THREE.WebGLRenderTarget(1, 1)
  private readonly sheet: THREE.Mesh<THREE.BufferGeometry, THREE.ShaderMaterial>
  private readonly sheetScene = new THREE.Scene()
  private readonly sheetCamera = new THREE.Camera()
  private readonly context: WebGL2RenderingContext
  /** What the graphics card was given last, and when; null once it is done with it. */
  private atWork: { readonly sync: WebGLSync; readonly begun: number } | null = null
  /** A step of a picture is not yet known to be done. */
  private isStepOpen = false
  private rest: PieceMesh[] = []
  private hasBegun = false

  constructor(private readonly renderer: THREE.WebGLRenderer) {
    // WebGL 1 is no longer made by the library.
    this.context = renderer.getContext() as WebGL2RenderingContext
    const type = renderer.extensions.has('EXT_color_buffer_float')
      ? THREE.HalfFloatType
      : THREE.UnsignedByteType
    this.target = new THREE.WebGLRenderTarget(1, 1, { type, samples: 4 })
    const corners = new THREE.BufferAttribute(Float32Array.of(-1, -1, 0, 3, -1, 0, -1, 3, 0), 3)
    const geometry = new THREE.BufferGeometry().setAttribute('position', corners)
    this.sheet = new THREE.Mesh(
      geometry,
      new THREE.ShaderMaterial({
        uniforms: { picture: { value: this.target.texture } },
        vertexShader: `varying vec2 place;
          void main() { place = 0.5 * position.xy + 0.5; gl_Position = vec4(position, 1.0); }`,
        // Linear light under its coverage: the display's curve is for colours, so coverage is taken out and put in again.
        fragmentShader: `uniform sampler2D picture; varying vec2 place;
          void main() {
            gl_FragColor = texture2D(picture, place);
            float coverage = gl_FragColor.a;
            gl_FragColor.rgb /= max(coverage, 1e-4);
            #include <colorspace_fragment>
            gl_FragColor.rgb *= coverage;
          }`,
        depthTest: false,
        depthWrite: false,
        blending: THREE.NoBlending,
      }),
    )
    this.sheet.frustumCulled = false
    this.sheetScene.add(this.sheet)
  }

  /** @param width in pixels of the screen. */
  resize(width: number, height: number): void {
    this.target.setSize(Math.max(1, width), Math.max(1, height))
  }

  /** Whether so many triangles are drawn between two frames. */
  get most(): number {
    return trianglesAtOnce
  }

  /** Hands meshes to the graphics card: a triangle of each is drawn onto one pixel. */
  bringUp(scene: THREE.Scene, camera: THREE.Camera, meshes: readonly PieceMesh[]): void {
    for (const mesh of meshes) {
      mesh.layers.enable(LAYER.dock)
      mesh.frustumCulled = false
      mesh.geometry.setDrawRange(0, 3)
    }
    this.render(scene, camera, [LAYER.dock], this.dock)
    for (const mesh of meshes) {
      mesh.layers.disable(LAYER.dock)
      mesh.frustumCulled = true
      mesh.geometry.setDrawRange(0, Infinity)
    }
    this.mark()
  }

  /** Has the programs made that a scene needs, without waiting for them; {@link areProgramsMade} says when they are. */
  makePrograms(scene: THREE.Scene, camera: THREE.Camera): void {
    const { renderer, target } = this
    renderer.setRenderTarget(target)
    renderer.compile(scene, camera)
    renderer.setRenderTarget(null)
    renderer.compile(this.sheetScene, this.sheetCamera)
  }

  get areProgramsMade(): boolean {
    return this.renderer.info.programs?.every((program) => isMade(program)) ?? true
  }

  /** Draws layers of a scene in one go, and shows them. */
  draw(scene: THREE.Scene, camera: THREE.Camera, layers: readonly number[]): void {
    this.stop()
    this.render(scene, camera, layers)
    this.show()
    this.mark()
  }

  /** Begins a picture in steps: of these meshes, and of what is always drawn. */
  begin(meshes: readonly PieceMesh[]): void {
    this.stop()
    // What lets light through is drawn over the rest.
    const isGlass = (mesh: PieceMesh) => mesh.material.some((material) => material.transparent)
    this.rest = [...meshes.filter((m) => !isGlass(m)), ...meshes.filter(isGlass)].reverse()
  }

  /** Goes on with it; to be called when the card is not busy. @returns whether the picture is whole, and shown. */
  goOn(scene: THREE.Scene, camera: THREE.Camera): boolean {
    const { renderer } = this
    if (this.isStepOpen) {
      this.isStepOpen = false
      learn(this.lastMs)
      if (this.rest.length === 0) {
        this.show()
        return true
      }
    }
    const own: PieceMesh[] = []
    for (let triangles = 0; this.rest.length > 0 && triangles < trianglesAtOnce;) {
      const mesh = this.rest.pop()
      if (!mesh) break
      triangles += trianglesOf(mesh)
      mesh.layers.enable(LAYER.step)
      own.push(mesh)
    }
    renderer.autoClear = !this.hasBegun
    this.render(scene, camera, this.hasBegun ? [LAYER.step] : [LAYER.always, LAYER.step])
    renderer.autoClear = true
    this.hasBegun = true
    for (const mesh of own) mesh.layers.disable(LAYER.step)
    this.isStepOpen = true
    this.mark()
    return false
  }

  /** Milliseconds that the last work took of the card. */
  private lastMs = 0

  /** Whether the card has still to do what it was given. More of it would have to be waited for, by the whole page. */
  get isBusy(): boolean {
    const { atWork, context } = this
    if (!atWork) return false
    // A lost context never says that it is done.
    if (context.isContextLost()) {
      this.atWork = null
      return false
    }
    if (context.getSyncParameter(atWork.sync, context.SYNC_STATUS) !== context.SIGNALED) return true
    context.deleteSync(atWork.sync)
    this.atWork = null
    this.lastMs = performance.now() - atWork.begun
    return false
  }

  /** Notes what the card has been given up to now. */
  private mark(): void {
    const { context } = this
    if (this.atWork) context.deleteSync(this.atWork.sync)
    const sync = context.fenceSync(context.SYNC_GPU_COMMANDS_COMPLETE, 0)
    this.atWork = sync && { sync, begun: performance.now() }
    context.flush()
  }

  /** Forgets what is half drawn. */
  stop(): void {
    this.isStepOpen = false
    this.rest = []
    this.hasBegun = false
  }

  dispose(): void {
    this.stop()
    if (this.atWork) this.context.deleteSync(this.atWork.sync)
    this.target.dispose()
    this.dock.dispose()
    this.sheet.geometry.dispose()
    this.sheet.material.dispose()
  }

  private render(
    scene: THREE.Scene,
    camera: THREE.Camera,
    layers: readonly number[],
    target = this.target,
  ): void {
    camera.layers.disableAll()
    for (const layer of layers) camera.layers.enable(layer)
    this.renderer.setRenderTarget(target)
    this.renderer.render(scene, camera)
    this.renderer.setRenderTarget(null)
    camera.layers.set(LAYER.always)
  }

  private show(): void {
    this.renderer.render(this.sheetScene, this.sheetCamera)
  }
}

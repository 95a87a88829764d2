import { z } from 'zod'
import { UnreadableFileError } from '../errors'

/**
 * What could make a glTF reader hang, run out of memory or misread is refused here, before any library sees it: cyclic
 * or bottomless nodes, references to nothing, sizes that do not fit, required extensions nobody knows.
 */

/** Extensions that are read, or that change nothing a polygon reader needs. */
const KNOWN = new Set([
  'KHR_mesh_quantization',
  'EXT_meshopt_compression',
  'EXT_mesh_gpu_instancing',
  'KHR_texture_transform',
  'EXT_texture_webp',
  'EXT_texture_avif',
  'KHR_materials_unlit',
  'KHR_materials_emissive_strength',
  'KHR_materials_transmission',
  'KHR_materials_specular',
  'KHR_materials_ior',
  'KHR_materials_volume',
  'KHR_materials_clearcoat',
  'KHR_materials_sheen',
  'KHR_materials_iridescence',
  'KHR_materials_anisotropy',
  'KHR_materials_dispersion',
  'KHR_materials_variants',
  'KHR_lights_punctual',
  'KHR_animation_pointer',
  'KHR_node_visibility',
  'KHR_xmp_json_ld',
])

/** No modelling program nests deeper; world matrices are made by walking up. */
const MAX_DEPTH = 512
/** Largest array of zeros an accessor without a buffer view may ask for, in bytes. */
const MAX_ZEROS = 64 * 2 ** 20

const COMPONENT_BYTES: Readonly<Record<number, number>> = {
  5120: 1,
  5121: 1,
  5122: 2,
  5123: 2,
  5125: 4,
  5126: 4,
}
const COMPONENTS: Readonly<Record<string, number>> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
}

/** Bytes one compressed byte may stand for; the codec's own best is near 100. */
const MOST_EXPANSION = 1024
/** What is allowed in any case, in bytes. */
const SMALL = 2 ** 20

const whole = z.number().int().min(0)
const meshoptSchema = z.looseObject({
  buffer: whole,
  byteOffset: whole.default(0),
  byteLength: whole,
  byteStride: whole,
  count: whole,
})
const gltfSchema = z.looseObject({
  asset: z.looseObject({ version: z.string() }),
  extensionsRequired: z.array(z.string()).default([]),
  nodes: z.array(z.looseObject({ children: z.array(whole).default([]) })).default([]),
  buffers: z.array(z.looseObject({ uri: z.string().optional(), byteLength: whole })).default([]),
  bufferViews: z
    .array(
      z.looseObject({
        buffer: whole,
        byteOffset: whole.default(0),
        byteLength: whole,
        byteStride: whole.default(0),
        extensions: z.looseObject({ EXT_meshopt_compression: meshoptSchema.optional() }).optional(),
      }),
    )
    .default([]),
  accessors: z
    .array(
      z.looseObject({
        bufferView: whole.optional(),
        byteOffset: whole.default(0),
        componentType: z.number(),
        count: whole,
        type: z.string(),
      }),
    )
    .default([]),
  meshes: z
    .array(
      z.looseObject({
        primitives: z
          .array(
            z.looseObject({
              attributes: z.record(z.string(), whole),
              indices: whole.optional(),
              targets: z.array(z.record(z.string(), whole)).default([]),
            }),
          )
          .default([]),
      }),
    )
    .default([]),
  images: z.array(z.looseObject({ uri: z.string().optional() })).default([]),
})
export type CheckedGltf = z.infer<typeof gltfSchema>

function checkNodes({ nodes }: CheckedGltf, refuse: (reason: string) => never): void {
  const state = new Uint8Array(nodes.length)
  /** Nodes below and including each, along the longest way down. */
  const height = new Uint32Array(nodes.length)
  for (let root = 0; root < nodes.length; root++) {
    if (state[root]) continue
    const stack: { node: number; next: number }[] = [{ node: root, next: 0 }]
    state[root] = 1
    while (stack.length > 0) {
      const top = stack[stack.length - 1]
      const { children } = nodes[top.node]
      if (top.next === children.length) {
        state[top.node] = 2
        height[top.node] = 1 + children.reduce((most, child) => Math.max(most, height[child]), 0)
        if (height[top.node] > MAX_DEPTH) refuse(`its nodes are nested more than ${MAX_DEPTH} deep`)
        stack.pop()
        continue
      }
      const child = children[top.next++]
      if (child >= nodes.length) refuse(`node ${top.node} names a child that does not exist (${child})`)
      if (state[child] === 1) refuse(`node ${child} is its own ancestor`)
      if (state[child] === 0) {
        state[child] = 1
        stack.push({ node: child, next: 0 })
      }
    }
  }
}

function checkSizes(gltf: CheckedGltf, refuse: (reason: string) => never): void {
  gltf.bufferViews.forEach((view, i) => {
    const buffer = gltf.buffers[view.buffer]
    if (!buffer) refuse(`buffer view ${i} names a buffer that does not exist (${view.buffer})`)
    if (view.byteOffset + view.byteLength > buffer.byteLength)
      refuse(`buffer view ${i} runs past the end of buffer ${view.buffer}`)
  })
  gltf.bufferViews.forEach((view, i) => {
    const packed = view.extensions?.EXT_meshopt_compression
    if (!packed) return
    const buffer = gltf.buffers[packed.buffer]
    if (!buffer) refuse(`buffer view ${i} names a buffer that does not exist (${packed.buffer})`)
    if (packed.byteOffset + packed.byteLength > buffer.byteLength)
      refuse(`buffer view ${i} runs past the end of buffer ${packed.buffer}`)
    const unpacked = packed.count * packed.byteStride
    if (unpacked > Math.max(SMALL, MOST_EXPANSION * packed.byteLength))
      refuse(`buffer view ${i} claims to unpack ${packed.byteLength} bytes to ${unpacked}`)
    if (unpacked > view.byteLength) refuse(`buffer view ${i} unpacks to more than it holds`)
  })
  gltf.accessors.forEach((accessor, i) => {
    const size = COMPONENT_BYTES[accessor.componentType] * COMPONENTS[accessor.type]
    if (!(size > 0)) refuse(`accessor ${i} is of a kind that glTF does not know`)
    if (accessor.bufferView === undefined) {
      if (accessor.count * size > MAX_ZEROS)
        refuse(`accessor ${i} claims ${accessor.count} elements and brings none of them`)
      return
    }
    const view = gltf.bufferViews[accessor.bufferView]
    if (!view) refuse(`accessor ${i} names a buffer view that does not exist (${accessor.bufferView})`)
    const step = view.byteStride || size
    if (accessor.count > 0 && accessor.byteOffset + step * (accessor.count - 1) + size > view.byteLength)
      refuse(`accessor ${i} claims ${accessor.count} elements, more than its buffer view holds`)
  })
}

/** Numbers a primitive names are there, and of the kind that their use asks for. */
function checkPrimitives({ meshes, accessors }: CheckedGltf, refuse: (reason: string) => never): void {
  const isWhole = new Set([5121, 5123, 5125])
  meshes.forEach(({ primitives }, m) => {
    for (const { attributes, indices, targets } of primitives) {
      for (const index of [...Object.values(attributes), ...targets.flatMap((t) => Object.values(t))])
        if (index >= accessors.length) refuse(`mesh ${m} names an accessor that does not exist (${index})`)
      if (attributes.POSITION !== undefined && accessors[attributes.POSITION].type !== 'VEC3')
        refuse(`mesh ${m} has places that are not of three numbers`)
      if (indices === undefined) continue
      if (indices >= accessors.length) refuse(`mesh ${m} names an accessor that does not exist (${indices})`)
      if (accessors[indices].type !== 'SCALAR' || !isWhole.has(accessors[indices].componentType))
        refuse(`mesh ${m} has indices that are no whole numbers`)
    }
  })
}

/**
 * @param json a parsed glTF document.
 * @returns it, with the lists that were left out as empty ones.
 * @throws {UnreadableFileError} naming the element and what is wrong with it.
 */
export function checkGltfJson(json: unknown, fileName: string): CheckedGltf {
  const refuse = (reason: string): never => {
    throw new UnreadableFileError(fileName, reason)
  }
  // Before its form is looked at: another version is of another form.
  const head = z.looseObject({ asset: z.looseObject({ version: z.string() }) }).safeParse(json)
  if (head.success && head.data.asset.version !== '2.0')
    refuse(`glTF version ${head.data.asset.version} is not supported; 2.0 is`)
  const isOld = z.looseObject({ nodes: z.record(z.string(), z.unknown()) }).safeParse(json)
  if (!head.success && isOld.success) refuse('is glTF version 1.0, which is not supported; 2.0 is')
  const parsed = gltfSchema.safeParse(json)
  if (!parsed.success) {
    const [issue] = parsed.error.issues
    return refuse(`is not a sound glTF document: ${issue.path.join('.') || 'the document'}: ${issue.message}`)
  }
  const gltf = parsed.data
  const unknown = gltf.extensionsRequired.find((name) => !KNOWN.has(name))
  if (unknown) refuse(`requires the extension ${unknown}, which is not supported`)
  checkNodes(gltf, refuse)
  checkSizes(gltf, refuse)
  checkPrimitives(gltf, refuse)
  return gltf
}

import { meshEdges } from '@/core/geometry/edges'
import { faceCount, meshBounds, polygonsBySides, vertexCount } from '@/core/geometry/polygon-mesh'
import { triangulate } from '@/core/geometry/triangulate'
import { loadModel } from './load-input'
import { parseOptions } from './arguments'
import { UsageError } from './usage-error'

/** `relief inspect MODEL…`: what is in the files, as JSON. */
export async function inspect(argv: readonly string[]): Promise<void> {
  const { positionals: files } = parseOptions(argv, {})
  if (files.length === 0) throw new UsageError('relief inspect MODEL…')
  const report = {
    files,
    parts: [] as { name: string; polygons: number; triangles: number; materials: string[] }[],
    materials: [] as string[],
    vertices: 0,
    triangles: 0,
    edges: 0,
    polygons: { 3: 0, 4: 0, more: 0 } as { 3: number; 4: number; more: number },
    bounds: { min: [Infinity, Infinity, Infinity], max: [-Infinity, -Infinity, -Infinity] },
    warnings: [] as { code: string; message: string; part: string | null }[],
  }
  for (const file of files) {
    const model = await loadModel(file)
    const { mesh } = model
    const { faces } = triangulate(mesh)
    const polygons = new Array<number>(model.parts.length).fill(0)
    const triangles = new Array<number>(model.parts.length).fill(0)
    const materials = model.parts.map(() => new Set<number>())
    for (let f = 0; f < faceCount(mesh); f++) {
      polygons[mesh.faceParts[f]]++
      materials[mesh.faceParts[f]].add(mesh.faceMaterials[f])
    }
    for (const f of faces) triangles[mesh.faceParts[f]]++
    model.parts.forEach((part, i) => {
      const names = [...materials[i]].sort((a, b) => a - b).map((m) => model.materials[m].name)
      report.parts.push({ name: part.name, polygons: polygons[i], triangles: triangles[i], materials: names })
    })
    for (const { name } of model.materials) if (!report.materials.includes(name)) report.materials.push(name)
    report.vertices += vertexCount(mesh)
    report.triangles += faces.length
    report.edges += meshEdges(mesh).count
    const sides = polygonsBySides(mesh)
    report.polygons[3] += sides[3]
    report.polygons[4] += sides[4]
    report.polygons.more += sides.more
    const bounds = meshBounds(mesh)
    for (let axis = 0; bounds && axis < 3; axis++) {
      report.bounds.min[axis] = Math.min(report.bounds.min[axis], bounds.min[axis])
      report.bounds.max[axis] = Math.max(report.bounds.max[axis], bounds.max[axis])
    }
    report.warnings.push(...model.warnings)
  }
  process.stdout.write(JSON.stringify(report, null, 2) + '\n')
}

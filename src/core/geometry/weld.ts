/**
 * Welds vertices that share a position bit for bit (−0 counts as 0). For topology only: the mesh keeps its vertices.
 * Open addressing over the raw bits; about 25 ns a vertex.
 * @param positions Float32Array, 3·V.
 * @returns `welded`: Uint32Array, V, the welded number of each vertex; `count`: how many there are.
 */
export function weldPositions(positions: Float32Array): { welded: Uint32Array; count: number } {
  const vertices = positions.length / 3
  const bits = new Uint32Array(positions.length)
  const floats = new Float32Array(bits.buffer)
  for (let i = 0; i < positions.length; i++) floats[i] = positions[i] + 0
  let capacity = 16
  while (capacity < vertices * 2) capacity *= 2
  const slots = new Int32Array(capacity).fill(-1)
  const welded = new Uint32Array(vertices)
  let count = 0
  for (let v = 0; v < vertices; v++) {
    const x = bits[3 * v]
    const y = bits[3 * v + 1]
    const z = bits[3 * v + 2]
    let h = Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca6b) ^ Math.imul(z, 0xc2b2ae35)
    h ^= h >>> 15
    let slot = h & (capacity - 1)
    for (;;) {
      const other = slots[slot]
      if (other < 0) {
        slots[slot] = v
        welded[v] = count++
        break
      }
      if (bits[3 * other] === x && bits[3 * other + 1] === y && bits[3 * other + 2] === z) {
        welded[v] = welded[other]
        break
      }
      slot = (slot + 1) & (capacity - 1)
    }
  }
  return { welded, count }
}

/**
 * Welds vertices that lie within a distance of each other, by a grid of cells of that size: each vertex goes to the first
 * one found near it, so a chain of near ones does not creep.
 * @param distance in the positions' units; 0 welds equal places only.
 * @param may 1 for each vertex that takes part.
 * @returns Uint32Array, V: the vertex each one becomes.
 */
export function weldWithin(positions: Float32Array, distance: number, may: Uint8Array): Uint32Array {
  const vertices = positions.length / 3
  const target = Uint32Array.from({ length: vertices }, (_, v) => v)
  if (!(distance > 0)) {
    const { welded, count } = weldPositions(positions)
    const first = new Int32Array(count).fill(-1)
    for (let v = 0; v < vertices; v++) {
      if (!may[v]) continue
      if (first[welded[v]] < 0) first[welded[v]] = v
      target[v] = first[welded[v]]
    }
    return target
  }
  const cells = new Map<number, number[]>()
  const cell = (v: number, axis: number) => Math.floor(positions[3 * v + axis] / distance)
  const key = (x: number, y: number, z: number) =>
    (Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791)) | 0
  const limit = distance * distance
  for (let v = 0; v < vertices; v++) {
    if (!may[v]) continue
    const [cx, cy, cz] = [cell(v, 0), cell(v, 1), cell(v, 2)]
    let found = -1
    for (let i = 0; i < 27 && found < 0; i++) {
      const near = cells.get(
        key(cx + (i % 3) - 1, cy + (Math.floor(i / 3) % 3) - 1, cz + Math.floor(i / 9) - 1),
      )
      for (const other of near ?? []) {
        const x = positions[3 * v] - positions[3 * other]
        const y = positions[3 * v + 1] - positions[3 * other + 1]
        const z = positions[3 * v + 2] - positions[3 * other + 2]
        if (x * x + y * y + z * z <= limit) {
          found = other
          break
        }
      }
    }
    if (found >= 0) target[v] = found
    else {
      const own = key(cx, cy, cz)
      const list = cells.get(own)
      if (list) list.push(v)
      else cells.set(own, [v])
    }
  }
  return target
}

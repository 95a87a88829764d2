import type { MeshEdges } from './edges'
import { EDGE_BORDER, EDGE_NON_MANIFOLD, EDGE_TURNED } from './edges'
import type { PolygonMesh } from './polygon-mesh'
import { faceCount } from './polygon-mesh'

/** Connected pieces of a surface, and which way round their faces would have to be. */
export interface Shells {
  readonly count: number
  /** Uint32Array, F: the shell of each face. */
  readonly ofFace: Uint32Array
  /** Uint8Array, F: 1 where a face must be turned over to agree with the first face of its shell. */
  readonly turned: Uint8Array
  /** Uint8Array, per shell: 1 without borders or crossing sheets. */
  readonly closed: Uint8Array
  /** Uint8Array, per shell: 1 where no turning makes all faces agree (a Möbius strip). */
  readonly oneSided: Uint8Array
  /** Float64Array, per shell: six times the volume enclosed once all faces agree; negative is inside out. */
  readonly volumes: Float64Array
}

/** Walks over the edges that two faces share. */
export function shellsOf(mesh: PolygonMesh, edges: MeshEdges): Shells {
  const faces = faceCount(mesh)

  // 1. Edges of each face that lead on, as a list per face.
  const starts = new Uint32Array(faces + 1)
  const leadsOn = (e: number) => edges.faces[2 * e + 1] >= 0 && !(edges.flags[e] & EDGE_NON_MANIFOLD)
  for (let e = 0; e < edges.count; e++) {
    if (!leadsOn(e)) continue
    starts[edges.faces[2 * e] + 1]++
    starts[edges.faces[2 * e + 1] + 1]++
  }
  for (let f = 0; f < faces; f++) starts[f + 1] += starts[f]
  const next = starts.slice()
  const list = new Uint32Array(starts[faces])
  for (let e = 0; e < edges.count; e++) {
    if (!leadsOn(e)) continue
    list[next[edges.faces[2 * e]]++] = e
    list[next[edges.faces[2 * e + 1]]++] = e
  }

  // 2. Flood, carrying along which way round each face is.
  const NOT_SEEN = 0xffffffff
  const ofFace = new Uint32Array(faces).fill(NOT_SEEN)
  const turned = new Uint8Array(faces)
  const oneSided: number[] = []
  const queue = new Uint32Array(faces)
  let count = 0
  for (let first = 0; first < faces; first++) {
    if (ofFace[first] !== NOT_SEEN) continue
    const shell = count++
    oneSided.push(0)
    let [head, tail] = [0, 0]
    queue[tail++] = first
    ofFace[first] = shell
    while (head < tail) {
      const f = queue[head++]
      for (let i = starts[f]; i < starts[f + 1]; i++) {
        const e = list[i]
        const other = edges.faces[2 * e] === f ? edges.faces[2 * e + 1] : edges.faces[2 * e]
        const wanted = turned[f] ^ (edges.flags[e] & EDGE_TURNED ? 1 : 0)
        if (ofFace[other] === NOT_SEEN) {
          ofFace[other] = shell
          turned[other] = wanted
          queue[tail++] = other
        } else if (turned[other] !== wanted) oneSided[shell] = 1
      }
    }
  }

  // 3. What is closed, and its volume by the divergence theorem.
  const closed = new Uint8Array(count).fill(1)
  for (let e = 0; e < edges.count; e++)
    if (edges.flags[e] & (EDGE_BORDER | EDGE_NON_MANIFOLD)) closed[ofFace[edges.faces[2 * e]]] = 0
  const volumes = new Float64Array(count)
  const { positions: p, faceStarts, cornerVertices } = mesh
  for (let f = 0; f < faces; f++) {
    const a = 3 * cornerVertices[faceStarts[f]]
    let sum = 0
    for (let c = faceStarts[f] + 1; c + 1 < faceStarts[f + 1]; c++) {
      const b = 3 * cornerVertices[c]
      const d = 3 * cornerVertices[c + 1]
      sum +=
        p[a] * (p[b + 1] * p[d + 2] - p[b + 2] * p[d + 1]) +
        p[a + 1] * (p[b + 2] * p[d] - p[b] * p[d + 2]) +
        p[a + 2] * (p[b] * p[d + 1] - p[b + 1] * p[d])
    }
    volumes[ofFace[f]] += turned[f] ? -sum : sum
  }
  return { count, ofFace, turned, closed, oneSided: Uint8Array.from(oneSided), volumes }
}

/**
 * Which faces to turn over so that all of a shell agree and closed ones face outwards. An open shell keeps the way most
 * of its faces are; a one-sided one is left alone.
 */
export function facesToTurn(shells: Shells): Uint8Array {
  const { ofFace, turned, closed, oneSided, volumes, count } = shells
  const faces = ofFace.length
  const balance = new Int32Array(count)
  for (let f = 0; f < faces; f++) balance[ofFace[f]] += turned[f] ? 1 : -1
  const out = new Uint8Array(faces)
  for (let f = 0; f < faces; f++) {
    const shell = ofFace[f]
    if (oneSided[shell]) continue
    const whole = closed[shell] ? volumes[shell] < 0 : balance[shell] > 0
    out[f] = turned[f] ^ (whole ? 1 : 0)
  }
  return out
}

/** Boxes of a few axes-aligned things, to find which of two lists overlap. Six numbers each: min x y z, max x y z. */
export type Boxes = Float32Array

const LEAF = 6

/** Whether two boxes share a point; touching ones do. */
export function boxesMeet(a: Boxes, i: number, b: Boxes, j: number): boolean {
  const m = 6 * i
  const n = 6 * j
  return (
    a[m] <= b[n + 3] &&
    b[n] <= a[m + 3] &&
    a[m + 1] <= b[n + 4] &&
    b[n + 1] <= a[m + 4] &&
    a[m + 2] <= b[n + 5] &&
    b[n + 2] <= a[m + 5]
  )
}

/** A tree over some of a list of boxes, halved at the median of its longest side. */
export class BoxTree {
  /** Boxes of the nodes; node n has its halves at 2n + 1 and 2n + 2. */
  private readonly nodes: Boxes
  private readonly order: Uint32Array
  private readonly depth: number

  /** @param chosen numbers of the boxes it holds. */
  constructor(
    private readonly boxes: Boxes,
    chosen: Uint32Array,
  ) {
    this.order = chosen.slice()
    this.depth = Math.max(0, Math.ceil(Math.log2(Math.max(1, chosen.length / LEAF))))
    this.nodes = new Float32Array(6 * (2 ** (this.depth + 1) - 1))
    this.build(0, 0, chosen.length, this.depth)
  }

  private build(node: number, from: number, to: number, depth: number): void {
    const { boxes, nodes, order } = this
    const at = 6 * node
    nodes.fill(Infinity, at, at + 3)
    nodes.fill(-Infinity, at + 3, at + 6)
    for (let i = from; i < to; i++) {
      const b = 6 * order[i]
      for (let axis = 0; axis < 3; axis++) {
        if (boxes[b + axis] < nodes[at + axis]) nodes[at + axis] = boxes[b + axis]
        if (boxes[b + 3 + axis] > nodes[at + 3 + axis]) nodes[at + 3 + axis] = boxes[b + 3 + axis]
      }
    }
    if (depth === 0) return
    let longest = 0
    for (let axis = 1; axis < 3; axis++)
      if (nodes[at + 3 + axis] - nodes[at + axis] > nodes[at + 3 + longest] - nodes[at + longest])
        longest = axis
    const half = (from + to) >> 1
    this.select(from, to - 1, half, longest)
    this.build(2 * node + 1, from, half, depth - 1)
    this.build(2 * node + 2, half, to, depth - 1)
  }

  /** Puts what belongs before the place `k` of the order before it, by the middles along an axis (Hoare 1961, quickselect). */
  private select(from: number, to: number, k: number, axis: number): void {
    const { boxes, order } = this
    const middle = (b: number) => boxes[6 * b + axis] + boxes[6 * b + 3 + axis]
    while (from < to) {
      const pivot = middle(order[(from + to) >> 1])
      let i = from
      let j = to
      while (i <= j) {
        while (middle(order[i]) < pivot) i++
        while (middle(order[j]) > pivot) j--
        if (i > j) break
        const swapped = order[i]
        order[i++] = order[j]
        order[j--] = swapped
      }
      if (k <= j) to = j
      else if (k >= i) from = i
      else return
    }
  }

  /** Hands the number of every box of the tree that meets another to `visit`. */
  query(others: Boxes, other: number, visit: (box: number) => void): void {
    this.walk(0, 0, this.order.length, this.depth, others, other, visit)
  }

  private walk(
    node: number,
    from: number,
    to: number,
    depth: number,
    others: Boxes,
    other: number,
    visit: (box: number) => void,
  ): void {
    if (!boxesMeet(this.nodes, node, others, other)) return
    if (depth === 0) {
      for (let i = from; i < to; i++)
        if (boxesMeet(this.boxes, this.order[i], others, other)) visit(this.order[i])
      return
    }
    const half = (from + to) >> 1
    this.walk(2 * node + 1, from, half, depth - 1, others, other, visit)
    this.walk(2 * node + 2, half, to, depth - 1, others, other, visit)
  }
}

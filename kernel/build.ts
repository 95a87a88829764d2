import {
  BLOCK_BYTES,
  HEAD,
  HEAD_BLOCKS,
  HEAD_BLOCK_COUNT,
  HEAD_CUTS,
  HEAD_END,
  HEAD_IDS,
  HEAD_NODE_COUNT,
  HEAD_NORMALS,
  HEAD_ROOT,
  HEAD_TAGS,
  HEAD_TRIANGLES,
  NODE_BYTES,
  TREE,
} from './layout'

/**
 * Builds the tree top-down by the binned surface area heuristic (Wald 2007), straight into eight-wide nodes: of a
 * node's children the largest by area is split until there are eight. Costs count blocks of four, not triangles.
 *
 * Works in place over one record a triangle, 32 bytes: box minimum x y z and the triangle's number, box maximum x y z.
 * Leaves are first references to a run of records; blocks are written at the end, in the order of the nodes.
 */

const RECORD: usize = 32
const LEAF_MOST: u32 = 8
/** Set in a record's number, which vector sums also add up: read as f32 it must not be a denormal, or sums crawl. */
const NUMBER_BITS: u32 = 0x40000000
const MOST_BINS: u32 = 16
/** Below this depth, runs are halved by number, so that no input makes a tree deeper than the stack. */
const DEPTH_MOST: u32 = 48

/** A child at work, 80 bytes: box min, box max, box of the middles (doubled) min and max; start, count. */
const CHILD: usize = 80
/** A bin, 48 bytes: box min, box max, count. */
const BIN: usize = 48

/** Scratch below TREE is too small: these live at the addresses the host gives. */
let records: usize = 0
let bins: usize = 0
let children: usize = 0
let sweep: usize = 0
/** Numbers of nodes still to be made. */
let pending: usize = 0
const PENDING_BYTES: usize = 4096
/** Where a split put its border, and the boxes of both sides. */
let splitAxis: i32 = -1
let splitBin: i32 = 0
let splitBins: u32 = 0

function halfArea(low: v128, high: v128): f32 {
  const size = f32x4.sub(high, low)
  const x = f32x4.extract_lane(size, 0)
  const y = f32x4.extract_lane(size, 1)
  const z = f32x4.extract_lane(size, 2)
  return x >= 0 ? x * y + y * z + z * x : 0
}

function blocksOf(count: u32): f32 {
  return <f32>((count + 3) >> 2)
}

/** Bins by how many triangles there are: few do not repay many. */
function binsFor(count: u32): u32 {
  return count > 512 ? MOST_BINS : count > 48 ? 8 : 6
}

/** Boxes of a run of records into a child. */
function measure(child: usize, start: u32, count: u32): void {
  let low = f32x4.splat(Infinity)
  let high = f32x4.splat(-Infinity)
  let middleLow = low
  let middleHigh = high
  let at = records + <usize>start * RECORD
  const end = at + <usize>count * RECORD
  for (; at < end; at += RECORD) {
    const a = v128.load(at)
    const b = v128.load(at, 16)
    const middle = f32x4.add(a, b)
    low = f32x4.pmin(low, a)
    high = f32x4.pmax(high, b)
    middleLow = f32x4.pmin(middleLow, middle)
    middleHigh = f32x4.pmax(middleHigh, middle)
  }
  v128.store(child, low)
  v128.store(child, high, 16)
  v128.store(child, middleLow, 32)
  v128.store(child, middleHigh, 48)
  store<u32>(child, start, 64)
  store<u32>(child, count, 68)
}

/** The cheapest border between bins of a child, into splitAxis (−1: none), splitBin, splitBins. */
function findSplit(child: usize): void {
  const start = load<u32>(child, 64)
  const count = load<u32>(child, 68)
  const middleLow = v128.load(child, 32)
  const extent = f32x4.sub(v128.load(child, 48), middleLow)
  const many = binsFor(count)
  splitBins = many
  splitAxis = -1
  // An axis without extent gets a scale of 0: all in one bin, never split there.
  const scale = v128.and(
    f32x4.div(f32x4.splat(<f32>many * <f32>0.999999), extent),
    f32x4.gt(extent, f32x4.splat(0)),
  )
  const inf = f32x4.splat(Infinity)
  const minusInf = f32x4.splat(-Infinity)
  for (let at = bins; at < bins + <usize>(3 * MOST_BINS) * BIN; at += BIN) {
    v128.store(at, inf)
    v128.store(at, minusInf, 16)
    store<u32>(at, 0, 32)
  }
  const binsY = bins + <usize>MOST_BINS * BIN
  const binsZ = bins + <usize>(2 * MOST_BINS) * BIN
  const most = i32x4.splat(<i32>many - 1)
  let at = records + <usize>start * RECORD
  const end = at + <usize>count * RECORD
  for (; at < end; at += RECORD) {
    const a = v128.load(at)
    const b = v128.load(at, 16)
    const place = i32x4.min_s(
      most,
      i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.sub(f32x4.add(a, b), middleLow), scale)),
    )
    const x = bins + <usize>i32x4.extract_lane(place, 0) * BIN
    v128.store(x, f32x4.pmin(v128.load(x), a))
    v128.store(x, f32x4.pmax(v128.load(x, 16), b), 16)
    store<u32>(x, load<u32>(x, 32) + 1, 32)
    const y = binsY + <usize>i32x4.extract_lane(place, 1) * BIN
    v128.store(y, f32x4.pmin(v128.load(y), a))
    v128.store(y, f32x4.pmax(v128.load(y, 16), b), 16)
    store<u32>(y, load<u32>(y, 32) + 1, 32)
    const z = binsZ + <usize>i32x4.extract_lane(place, 2) * BIN
    v128.store(z, f32x4.pmin(v128.load(z), a))
    v128.store(z, f32x4.pmax(v128.load(z, 16), b), 16)
    store<u32>(z, load<u32>(z, 32) + 1, 32)
  }
  let best: f32 = Infinity
  for (let axis = 0; axis < 3; axis++) {
    const first = bins + <usize>(<u32>axis * MOST_BINS) * BIN
    let low = inf
    let high = minusInf
    let swept: u32 = 0
    for (let k = many - 1; k > 0; k--) {
      const bin = first + <usize>k * BIN
      low = f32x4.pmin(low, v128.load(bin))
      high = f32x4.pmax(high, v128.load(bin, 16))
      swept += load<u32>(bin, 32)
      store<f32>(sweep + ((<usize>k) << 2), swept > 0 ? halfArea(low, high) * blocksOf(swept) : 0)
    }
    low = inf
    high = minusInf
    swept = 0
    for (let k: u32 = 0; k < many - 1; k++) {
      const bin = first + <usize>k * BIN
      low = f32x4.pmin(low, v128.load(bin))
      high = f32x4.pmax(high, v128.load(bin, 16))
      swept += load<u32>(bin, 32)
      if (swept == 0 || swept == count) continue
      const cost = halfArea(low, high) * blocksOf(swept) + load<f32>(sweep + ((<usize>(k + 1)) << 2))
      if (cost < best) {
        best = cost
        splitAxis = axis
        splitBin = <i32>k
      }
    }
  }
}

/** Splits a child in two: it keeps the left side, `right` gets the other. */
function split(child: usize, right: usize, byNumber: bool): void {
  const start = load<u32>(child, 64)
  const count = load<u32>(child, 68)
  let middle = start + (count >> 1)
  if (!byNumber) findSplit(child)
  if (!byNumber && splitAxis >= 0) {
    const shift = (<usize>splitAxis) << 2
    const low = load<f32>(child + shift, 32)
    const extent = load<f32>(child + shift, 48) - low
    const scale: f32 = (<f32>splitBins * <f32>0.999999) / extent
    const most = <i32>splitBins - 1
    let left = records + <usize>start * RECORD
    let last = records + <usize>(start + count - 1) * RECORD
    while (left <= last) {
      const place = min(most, <i32>((load<f32>(left + shift) + load<f32>(left + shift, 16) - low) * scale))
      if (place <= splitBin) left += RECORD
      else {
        const a = v128.load(left)
        const b = v128.load(left, 16)
        v128.store(left, v128.load(last))
        v128.store(left, v128.load(last, 16), 16)
        v128.store(last, a)
        v128.store(last, b, 16)
        last -= RECORD
      }
    }
    const found = <u32>((left - records) / RECORD)
    // Rounding may put all on one side; then halves by number do.
    if (found > start && found < start + count) middle = found
  }
  measure(right, middle, start + count - middle)
  measure(child, start, middle - start)
}

/**
 * @param vertices address of 9 f32 a triangle.
 * @param tags address of one u32 a triangle: mask << 24 | part.
 * @param total triangles, at least 1.
 * @param scratch address of free memory: 32 bytes a triangle and 8 KiB; then free to the end of memory, which grows.
 * @returns where the finished tree begins; copy from there to `end()` to TREE.
 */
export function build(vertices: usize, tags: usize, total: u32, scratch: usize): usize {
  bins = scratch
  children = bins + <usize>(3 * MOST_BINS) * BIN
  sweep = children + 9 * CHILD
  pending = sweep + ((<usize>MOST_BINS) << 2)
  records = (pending + PENDING_BYTES + 15) & ~15

  // 1. Records.
  for (let i: u32 = 0; i < total; i++) {
    const from = vertices + <usize>i * 36
    const a = v128.load(from)
    const b = v128.load(from, 12)
    const c = v128.load(from, 24)
    const to = records + <usize>i * RECORD
    v128.store(to, f32x4.pmin(f32x4.pmin(a, b), c))
    v128.store(to, f32x4.pmax(f32x4.pmax(a, b), c), 16)
    store<u32>(to, i | NUMBER_BITS, 12)
    store<u32>(to, 0, 28)
  }

  // 2. Nodes, depth first, siblings together: what rays meet together lies together. A node still to be made holds its
  //    run of records in place of its references.
  const nodes = (records + <usize>total * RECORD + 63) & ~63
  let nodeCount: u32 = 1
  let blockCount: u32 = 0
  room(nodes + NODE_BYTES)
  store<u32>(nodes, 0, 192)
  store<u32>(nodes, total, 196)
  store<u32>(nodes, 0, 200)
  let waiting: usize = 1
  store<u32>(pending, 0)
  while (waiting > 0) {
    waiting--
    const node = nodes + <usize>load<u32>(pending + (waiting << 2)) * NODE_BYTES
    const depth = load<u32>(node, 200)
    measure(children, load<u32>(node, 192), load<u32>(node, 196))
    let many: u32 = 1
    while (many < 8) {
      let largest: usize = 0
      let area: f32 = -1
      for (let k: u32 = 0; k < many; k++) {
        const child = children + <usize>k * CHILD
        if (load<u32>(child, 68) <= LEAF_MOST) continue
        const own = halfArea(v128.load(child), v128.load(child, 16))
        // NaN or overflow: still split, or the run would never end.
        if (largest == 0 || own > area) {
          area = own
          largest = child
        }
      }
      if (largest == 0) break
      split(largest, children + <usize>many * CHILD, depth > DEPTH_MOST)
      many++
    }
    room(nodes + <usize>(nodeCount + 8) * NODE_BYTES)
    for (let k: u32 = 0; k < 8; k++) {
      const lane = node + ((<usize>k) << 2)
      if (k >= many) {
        for (let axis: usize = 0; axis < 96; axis += 32) {
          store<f32>(lane + axis, Infinity)
          store<f32>(lane + axis, -Infinity, 96)
        }
        store<u32>(lane, 0, 192)
        continue
      }
      const child = children + <usize>k * CHILD
      for (let axis: usize = 0; axis < 3; axis++) {
        store<f32>(lane + (axis << 5), load<f32>(child + (axis << 2)))
        store<f32>(lane + (axis << 5), load<f32>(child + (axis << 2), 16), 96)
      }
      const start = load<u32>(child, 64)
      const count = load<u32>(child, 68)
      if (count <= LEAF_MOST) {
        // For now: the run of records, odd.
        store<u32>(lane, (start << 4) | ((count - 1) << 1) | 1, 192)
        blockCount += (count + 3) >> 2
      } else {
        store<u32>(lane, <u32>(TREE + <usize>nodeCount * NODE_BYTES), 192)
        const next = nodes + <usize>nodeCount * NODE_BYTES
        store<u32>(next, start, 192)
        store<u32>(next, count, 196)
        store<u32>(next, depth + 1, 200)
        store<u32>(pending + (waiting << 2), nodeCount)
        waiting++
        nodeCount++
      }
    }
  }

  // 3. Blocks, ids and tags behind the nodes, in the order of the nodes.
  const blocks = nodes + <usize>nodeCount * NODE_BYTES
  const ids = blocks + <usize>blockCount * BLOCK_BYTES
  const slotTags = ids + ((<usize>blockCount) << 4)
  const finish = slotTags + ((<usize>blockCount) << 4)
  room(finish)
  const move = TREE - nodes
  let written: u32 = 0
  for (let n: u32 = 0; n < nodeCount; n++) {
    const node = nodes + <usize>n * NODE_BYTES
    for (let k: u32 = 0; k < 8; k++) {
      const at = node + ((<usize>k) << 2)
      const ref = load<u32>(at, 192)
      if ((ref & 1) == 0) continue
      const start = ref >> 4
      const count = ((ref >> 1) & 7) + 1
      const many = (count + 3) >> 2
      const first = blocks + <usize>written * BLOCK_BYTES
      memory.fill(first, 0, <usize>many * BLOCK_BYTES)
      for (let place: u32 = 0; place < many << 2; place++) {
        const slot = (((<usize>written) << 2) + <usize>place) << 2
        if (place >= count) {
          store<u32>(ids + slot, 0xffffffff)
          store<u32>(slotTags + slot, 0)
          continue
        }
        const id = load<u32>(records + <usize>(start + place) * RECORD, 12) & ~NUMBER_BITS
        const from = vertices + <usize>id * 36
        const lane = first + <usize>(place >> 2) * BLOCK_BYTES + ((<usize>(place & 3)) << 2)
        for (let k9: usize = 0; k9 < 9; k9++) {
          store<f32>(lane + (k9 << 4), load<f32>(from + (k9 << 2)))
        }
        store<u32>(ids + slot, id)
        store<u32>(slotTags + slot, load<u32>(tags + ((<usize>id) << 2)))
      }
      store<u32>(at, (<u32>(first + move)) | 1 | ((many - 1) << 1), 192)
      written += many
    }
  }
  store<u32>(HEAD + HEAD_ROOT, <u32>TREE)
  store<u32>(HEAD + HEAD_BLOCKS, <u32>(blocks + move))
  store<u32>(HEAD + HEAD_TAGS, <u32>(slotTags + move))
  store<u32>(HEAD + HEAD_CUTS, 0)
  store<u32>(HEAD + HEAD_NORMALS, 0)
  store<u32>(HEAD + HEAD_TRIANGLES, 0)
  store<u32>(HEAD + HEAD_IDS, <u32>(ids + move))
  store<u32>(HEAD + HEAD_END, <u32>(finish + move))
  store<u32>(HEAD + HEAD_NODE_COUNT, nodeCount)
  store<u32>(HEAD + HEAD_BLOCK_COUNT, blockCount)
  return nodes
}

/** Sees to it that memory reaches `end`; traps when the host gives no more. */
function room(end: usize): void {
  const pages = <i32>((end + 16 + 65535) >> 16)
  const have = memory.size()
  // By a quarter more than asked, so that growing stays rare.
  if (pages > have && memory.grow(max(pages - have, have >> 2)) < 0) {
    if (memory.grow(pages - have) < 0) unreachable()
  }
}

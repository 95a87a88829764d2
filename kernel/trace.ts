// One file: one module of the kernel: its functions share memory laid out at its head, and are compiled together.
import {
  BLOCK_BYTES,
  HEAD,
  HEAD_BLOCKS,
  HEAD_CUTS,
  HEAD_IDS,
  HEAD_ROOT,
  HEAD_TAGS,
  PARTS_BOX,
} from './layout'

/**
 * Batches of rays against the tree.
 *
 * Ray, 32 bytes: origin x y z, nearest distance, direction x y z, farthest distance (f32).
 * Hit, 16 bytes: slot (u32, 0xffffffff for none), distance, weights of corners 1 and 2 (f32).
 *
 * Triangles are tested in the ray's own sheared space (Woop, Benthin & Wald 2013, "Watertight Ray/Triangle
 * Intersection", JCGT 2(1)). The edge functions of a shared edge are the same products with the same rounding in both
 * triangles, and rounding never turns a sign round, only to 0, which counts as inside: no ray falls through a seam.
 * Distances are compared without dividing; one division is spent on a hit that is kept.
 *
 * Boxes: Ize 2013, "Robust BVH Ray Traversal", JCGT 2(2): the far side is widened by the rounding of its own arithmetic.
 */
const FAR_SLACK: f32 = 1.000001
/** Direction components smaller than this are not divided by: slabs stay finite. */
const TINY: f32 = 1e-18
const NOTHING: u32 = 0xffffffff
/** Tag bit of a triangle with a cut-out texture. */
const TAG_CUT: u32 = 0x80000000
/** Bytes of stack for references, then as many for distances. */
export const STACK_BYTES: usize = 8192

/** Rays asked about since this was last read. */
let asked: u32 = 0

/** Rays asked about since the last call. */
export function raysAsked(): u32 {
  const count = asked
  asked = 0
  return count
}

function safe(d: f32): f32 {
  return abs(d) > TINY ? d : d < 0 ? -TINY : TINY
}

/**
 * Whether a cut-out lets the ray through at a place of a triangle.
 * Record: six f32 of texture coordinates (u, v of three corners), the address of its picture.
 * Picture: width, height (u32), threshold (f32; negative: by chance), then one byte of alpha a pixel.
 * `dice` makes the chance: a hash of it decides, so the same ray always gets the same answer.
 */
function isCutAway(slot: u32, b: f32, c: f32, dice: u32): bool {
  const cuts: usize = load<u32>(HEAD + HEAD_CUTS)
  if (cuts == 0) return false
  const id = load<u32>(<usize>load<u32>(HEAD + HEAD_IDS) + ((<usize>slot) << 2))
  const record: usize = load<u32>(cuts + ((<usize>id) << 2))
  if (record == 0) return false
  const a: f32 = 1 - b - c
  const u: f32 = a * load<f32>(record) + b * load<f32>(record, 8) + c * load<f32>(record, 16)
  const v: f32 = a * load<f32>(record, 4) + b * load<f32>(record, 12) + c * load<f32>(record, 20)
  const picture: usize = load<u32>(record, 24)
  const width = load<i32>(picture)
  const height = load<i32>(picture, 4)
  const threshold = load<f32>(picture, 8)
  // Between four pixels, repeated.
  const x: f32 = (u - floor(u)) * <f32>width - 0.5
  const y: f32 = (v - floor(v)) * <f32>height - 0.5
  const xf: f32 = floor(x)
  const yf: f32 = floor(y)
  const fx: f32 = x - xf
  const fy: f32 = y - yf
  let x0 = <i32>xf
  let y0 = <i32>yf
  if (x0 < 0) x0 += width
  if (y0 < 0) y0 += height
  const x1 = x0 + 1 >= width ? 0 : x0 + 1
  const y1 = y0 + 1 >= height ? 0 : y0 + 1
  const row0: usize = picture + 12 + <usize>(y0 * width)
  const row1: usize = picture + 12 + <usize>(y1 * width)
  const top: f32 = (1 - fx) * <f32>load<u8>(row0 + <usize>x0) + fx * <f32>load<u8>(row0 + <usize>x1)
  const low: f32 = (1 - fx) * <f32>load<u8>(row1 + <usize>x0) + fx * <f32>load<u8>(row1 + <usize>x1)
  const alpha: f32 = ((1 - fy) * top + fy * low) * <f32>(1.0 / 255.0)
  if (threshold >= 0) return alpha < threshold
  let h = dice ^ (reinterpret<u32>(b) * 0x9e3779b1) ^ (reinterpret<u32>(c) * 0x85ebca6b)
  h = (h ^ (h >> 16)) * 0x21f0aaad
  h = (h ^ (h >> 15)) * 0x735a2d97
  h = h ^ (h >> 15)
  return alpha <= (<f32>(h >> 8) + 0.5) * <f32>(1.0 / 16777216.0)
}

/** The near end of the octave below `far` that a distance lies in; 0 from an eighth on. */
function octaveBelow(distance: f32, far: f32): f32 {
  return distance * 2 >= far
    ? far * 0.5
    : distance * 4 >= far
      ? far * 0.25
      : distance * 8 >= far
        ? far * 0.125
        : 0
}

/** Where a ray is in a box, that {@link throughBox} found. */
let enters: f32 = 0
let leaves: f32 = 0
/** A box of parts is wider by these shares of a distance and of where a ray begins: it only spares a look, and may be late. */
const BOX_SLACK: f32 = 0.001
const BEGIN_SLACK: f32 = 0.00001

/** Whether a ray comes through the box of the parts that are in, and from where to where. */
function throughBox(parts: usize, ray: usize, ix: f32, iy: f32, iz: f32): bool {
  const box = parts - PARTS_BOX
  const ox = load<f32>(ray)
  const oy = load<f32>(ray, 4)
  const oz = load<f32>(ray, 8)
  const x0 = (load<f32>(box) - ox) * ix
  const y0 = (load<f32>(box, 4) - oy) * iy
  const z0 = (load<f32>(box, 8) - oz) * iz
  const x1 = (load<f32>(box, 12) - ox) * ix
  const y1 = (load<f32>(box, 16) - oy) * iy
  const z1 = (load<f32>(box, 20) - oz) * iz
  const first = max(min(x0, x1), max(min(y0, y1), min(z0, z1)))
  const last = min(max(x0, x1), min(max(y0, y1), max(z0, z1)))
  const slack = BOX_SLACK * (abs(first) + abs(last)) + BEGIN_SLACK * (abs(ox) + abs(oy) + abs(oz))
  enters = max(load<f32>(ray, 12), first - slack)
  leaves = min(load<f32>(ray, 28), last + slack)
  return enters <= leaves
}

/** Bits of a ray that chance may depend on: the same for the same ray. */
function diceOf(ray: usize): u32 {
  return load<u32>(ray, 16) ^ (load<u32>(ray, 20) * 0x9e3779b1) ^ (load<u32>(ray, 24) * 0x85ebca6b)
}

/**
 * Closest hits of `count` rays.
 * @param mask a triangle must share a bit with it.
 * @param parts address of one byte per part, 0 leaves it out; 0: all parts.
 * @param stack scratch of 2 · STACK_BYTES.
 * @param octaves only which octave of its farthest distance a ray ends in is asked: the hit's distance is then the
 *   octave's near end (½, ¼, ⅛ of the farthest, or 0), and nothing farther in the octave is looked at again.
 */
export function closestHits(
  rays: usize,
  hits: usize,
  count: u32,
  mask: u32,
  parts: usize,
  stack: usize,
  octaves: bool,
): void {
  asked += count
  const root = load<u32>(HEAD + HEAD_ROOT)
  const blocks: usize = load<u32>(HEAD + HEAD_BLOCKS)
  const tags: usize = load<u32>(HEAD + HEAD_TAGS)
  const zero = f32x4.splat(0)
  const signBit = i32x4.splat(0x80000000)
  const slack = f32x4.splat(FAR_SLACK)
  const nearLanes = stack + 2 * STACK_BYTES
  for (let r: u32 = 0; r < count; r++) {
    const ray = rays + ((<usize>r) << 5)
    const hit = hits + ((<usize>r) << 4)
    const ox = load<f32>(ray)
    const oy = load<f32>(ray, 4)
    const oz = load<f32>(ray, 8)
    const near = load<f32>(ray, 12)
    const dx = safe(load<f32>(ray, 16))
    const dy = safe(load<f32>(ray, 20))
    const dz = safe(load<f32>(ray, 24))
    let best = load<f32>(ray, 28)
    const ix: f32 = 1 / dx
    const iy: f32 = 1 / dy
    const iz: f32 = 1 / dz
    if (parts != 0 && !throughBox(parts, ray, ix, iy, iz)) {
      store<u32>(hit, NOTHING)
      store<f32>(hit, best, 4)
      store<u64>(hit, 0, 8)
      continue
    }
    const from4 = f32x4.splat(parts != 0 ? enters : near)
    if (parts != 0) best = leaves
    const ox4 = f32x4.splat(ox)
    const oy4 = f32x4.splat(oy)
    const oz4 = f32x4.splat(oz)
    const ix4 = f32x4.splat(ix)
    const iy4 = f32x4.splat(iy)
    const iz4 = f32x4.splat(iz)
    const near4 = f32x4.splat(near)
    let best4 = f32x4.splat(best)
    const nearX: usize = dx < 0 ? 96 : 0
    const nearY: usize = dy < 0 ? 128 : 32
    const nearZ: usize = dz < 0 ? 160 : 64
    const farX: usize = 96 - nearX
    const farY: usize = 160 - nearY
    const farZ: usize = 224 - nearZ

    // Sheared space: the axis the ray runs along most becomes z.
    const ax = abs(dx)
    const ay = abs(dy)
    const az = abs(dz)
    let kz: usize = 32
    let kx: usize = 0
    let ky: usize = 16
    let dkx = dx
    let dky = dy
    let dkz = dz
    let okx4 = ox4
    let oky4 = oy4
    let okz4 = oz4
    if (ax > ay && ax > az) {
      kz = 0
      kx = 16
      ky = 32
      dkx = dy
      dky = dz
      dkz = dx
      okx4 = oy4
      oky4 = oz4
      okz4 = ox4
    } else if (ay > az) {
      kz = 16
      kx = 32
      ky = 0
      dkx = dz
      dky = dx
      dkz = dy
      okx4 = oz4
      oky4 = ox4
      okz4 = oy4
    }
    const sz: f32 = 1 / dkz
    const sx4 = f32x4.splat(dkx * sz)
    const sy4 = f32x4.splat(dky * sz)
    const sz4 = f32x4.splat(sz)

    let found: u32 = NOTHING
    let foundB: f32 = 0
    let foundC: f32 = 0
    let depth: usize = 0
    let ref: u32 = root
    while (ref != 0) {
      if (ref & 1) {
        // 1. A leaf: four triangles at a time.
        let block: usize = ref & ~15
        const last: usize = block + <usize>((ref >> 1) & 7) * BLOCK_BYTES
        for (; block <= last; block += BLOCK_BYTES) {
          const a3 = f32x4.sub(v128.load(block + kz), okz4)
          const b3 = f32x4.sub(v128.load(block + kz, 48), okz4)
          const c3 = f32x4.sub(v128.load(block + kz, 96), okz4)
          const a1 = f32x4.sub(f32x4.sub(v128.load(block + kx), okx4), f32x4.mul(sx4, a3))
          const b1 = f32x4.sub(f32x4.sub(v128.load(block + kx, 48), okx4), f32x4.mul(sx4, b3))
          const c1 = f32x4.sub(f32x4.sub(v128.load(block + kx, 96), okx4), f32x4.mul(sx4, c3))
          const a2 = f32x4.sub(f32x4.sub(v128.load(block + ky), oky4), f32x4.mul(sy4, a3))
          const b2 = f32x4.sub(f32x4.sub(v128.load(block + ky, 48), oky4), f32x4.mul(sy4, b3))
          const c2 = f32x4.sub(f32x4.sub(v128.load(block + ky, 96), oky4), f32x4.mul(sy4, c3))
          const u = f32x4.sub(f32x4.mul(c1, b2), f32x4.mul(c2, b1))
          const v = f32x4.sub(f32x4.mul(a1, c2), f32x4.mul(a2, c1))
          const w = f32x4.sub(f32x4.mul(b1, a2), f32x4.mul(b2, a1))
          const det = f32x4.add(f32x4.add(u, v), w)
          const t = f32x4.mul(sz4, f32x4.add(f32x4.add(f32x4.mul(u, a3), f32x4.mul(v, b3)), f32x4.mul(w, c3)))
          const sign = v128.and(det, signBit)
          const size = f32x4.abs(det)
          const signedT = v128.xor(t, sign)
          const inside = v128.or(
            f32x4.ge(f32x4.pmin(f32x4.pmin(u, v), w), zero),
            f32x4.le(f32x4.pmax(f32x4.pmax(u, v), w), zero),
          )
          const between = v128.and(
            f32x4.gt(signedT, f32x4.mul(near4, size)),
            f32x4.lt(signedT, f32x4.mul(best4, size)),
          )
          let bits = i32x4.bitmask(v128.and(inside, between))
          if (bits == 0) continue
          v128.store(nearLanes, f32x4.div(signedT, size))
          v128.store(nearLanes, f32x4.div(v, det), 16)
          v128.store(nearLanes, f32x4.div(w, det), 32)
          const first = (<u32>((block - blocks) / BLOCK_BYTES)) << 2
          do {
            const lane = ctz(bits)
            bits &= bits - 1
            const at = nearLanes + ((<usize>lane) << 2)
            const distance = load<f32>(at)
            if (distance >= best) continue
            const slot = first + <u32>lane
            const tag = load<u32>(tags + ((<usize>slot) << 2))
            if (((tag >> 24) & mask) == 0) continue
            if (parts != 0 && load<u8>(parts + <usize>(tag & 0xffffff)) == 0) continue
            const b = load<f32>(at, 16)
            const c = load<f32>(at, 32)
            if (tag & TAG_CUT && isCutAway(slot, b, c, diceOf(ray))) continue
            best = octaves ? octaveBelow(distance, load<f32>(ray, 28)) : distance
            best4 = f32x4.splat(best)
            found = slot
            foundB = b
            foundC = c
          } while (bits)
        }
      } else {
        // 2. A node: eight boxes.
        const node: usize = ref
        const tn0 = f32x4.pmax(
          f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(node + nearX), ox4), ix4), from4),
          f32x4.pmax(
            f32x4.mul(f32x4.sub(v128.load(node + nearY), oy4), iy4),
            f32x4.mul(f32x4.sub(v128.load(node + nearZ), oz4), iz4),
          ),
        )
        const tf0 = f32x4.pmin(
          f32x4.mul(
            slack,
            f32x4.pmin(
              f32x4.mul(f32x4.sub(v128.load(node + farX), ox4), ix4),
              f32x4.pmin(
                f32x4.mul(f32x4.sub(v128.load(node + farY), oy4), iy4),
                f32x4.mul(f32x4.sub(v128.load(node + farZ), oz4), iz4),
              ),
            ),
          ),
          best4,
        )
        const tn1 = f32x4.pmax(
          f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(node + nearX, 16), ox4), ix4), from4),
          f32x4.pmax(
            f32x4.mul(f32x4.sub(v128.load(node + nearY, 16), oy4), iy4),
            f32x4.mul(f32x4.sub(v128.load(node + nearZ, 16), oz4), iz4),
          ),
        )
        const tf1 = f32x4.pmin(
          f32x4.mul(
            slack,
            f32x4.pmin(
              f32x4.mul(f32x4.sub(v128.load(node + farX, 16), ox4), ix4),
              f32x4.pmin(
                f32x4.mul(f32x4.sub(v128.load(node + farY, 16), oy4), iy4),
                f32x4.mul(f32x4.sub(v128.load(node + farZ, 16), oz4), iz4),
              ),
            ),
          ),
          best4,
        )
        let bits = i32x4.bitmask(f32x4.le(tn0, tf0)) | (i32x4.bitmask(f32x4.le(tn1, tf1)) << 4)
        if (bits != 0) {
          const firstLane = ctz(bits)
          bits &= bits - 1
          const refs = node + 192
          if (bits == 0) {
            ref = load<u32>(refs + ((<usize>firstLane) << 2))
            continue
          }
          v128.store(nearLanes, tn0)
          v128.store(nearLanes, tn1, 16)
          // Sorted on insertion: the nearest on top.
          const base = depth
          let at = stack + (depth << 2)
          store<u32>(at, load<u32>(refs + ((<usize>firstLane) << 2)))
          store<f32>(at, load<f32>(nearLanes + ((<usize>firstLane) << 2)), STACK_BYTES)
          depth++
          do {
            const lane = <usize>ctz(bits)
            bits &= bits - 1
            const entry = load<f32>(nearLanes + (lane << 2))
            let place = depth
            at = stack + (place << 2)
            while (place > base && load<f32>(at - 4, STACK_BYTES) < entry) {
              store<u32>(at, load<u32>(at - 4))
              store<f32>(at, load<f32>(at - 4, STACK_BYTES), STACK_BYTES)
              at -= 4
              place--
            }
            store<u32>(at, load<u32>(refs + (lane << 2)))
            store<f32>(at, entry, STACK_BYTES)
            depth++
          } while (bits)
        }
      }
      // 3. The next of the stack that may still be nearer.
      ref = 0
      while (depth > 0) {
        depth--
        const at = stack + (depth << 2)
        if (load<f32>(at, STACK_BYTES) < best) {
          ref = load<u32>(at)
          break
        }
      }
    }
    store<u32>(hit, found)
    store<f32>(hit, found == NOTHING ? load<f32>(ray, 28) : best, 4)
    store<f32>(hit, foundB, 8)
    store<f32>(hit, foundC, 12)
  }
}

/**
 * Whether anything lies on each of `count` rays. Parameters as for {@link closestHits}.
 * @param blocked one byte a ray: 1 where something does.
 */
export function anyHits(
  rays: usize,
  blocked: usize,
  count: u32,
  mask: u32,
  parts: usize,
  stack: usize,
): void {
  asked += count
  const root = load<u32>(HEAD + HEAD_ROOT)
  const blocks: usize = load<u32>(HEAD + HEAD_BLOCKS)
  const tags: usize = load<u32>(HEAD + HEAD_TAGS)
  const zero = f32x4.splat(0)
  const signBit = i32x4.splat(0x80000000)
  const slack = f32x4.splat(FAR_SLACK)
  const lanes = stack + 2 * STACK_BYTES
  for (let r: u32 = 0; r < count; r++) {
    const ray = rays + ((<usize>r) << 5)
    const near = load<f32>(ray, 12)
    const dx = safe(load<f32>(ray, 16))
    const dy = safe(load<f32>(ray, 20))
    const dz = safe(load<f32>(ray, 24))
    const ix: f32 = 1 / dx
    const iy: f32 = 1 / dy
    const iz: f32 = 1 / dz
    if (parts != 0 && !throughBox(parts, ray, ix, iy, iz)) {
      store<u8>(blocked + <usize>r, 0)
      continue
    }
    const from4 = f32x4.splat(parts != 0 ? enters : near)
    const far4 = f32x4.splat(parts != 0 ? leaves : load<f32>(ray, 28))
    const ox4 = v128.load_splat<f32>(ray)
    const oy4 = v128.load_splat<f32>(ray, 4)
    const oz4 = v128.load_splat<f32>(ray, 8)
    const ix4 = f32x4.splat(ix)
    const iy4 = f32x4.splat(iy)
    const iz4 = f32x4.splat(iz)
    const near4 = f32x4.splat(near)
    const nearX: usize = dx < 0 ? 96 : 0
    const nearY: usize = dy < 0 ? 128 : 32
    const nearZ: usize = dz < 0 ? 160 : 64
    const farX: usize = 96 - nearX
    const farY: usize = 160 - nearY
    const farZ: usize = 224 - nearZ
    const ax = abs(dx)
    const ay = abs(dy)
    const az = abs(dz)
    let kz: usize = 32
    let kx: usize = 0
    let ky: usize = 16
    let dkx = dx
    let dky = dy
    let dkz = dz
    let okx4 = ox4
    let oky4 = oy4
    let okz4 = oz4
    if (ax > ay && ax > az) {
      kz = 0
      kx = 16
      ky = 32
      dkx = dy
      dky = dz
      dkz = dx
      okx4 = oy4
      oky4 = oz4
      okz4 = ox4
    } else if (ay > az) {
      kz = 16
      kx = 32
      ky = 0
      dkx = dz
      dky = dx
      dkz = dy
      okx4 = oz4
      oky4 = ox4
      okz4 = oy4
    }
    const sz: f32 = 1 / dkz
    const sx4 = f32x4.splat(dkx * sz)
    const sy4 = f32x4.splat(dky * sz)
    const sz4 = f32x4.splat(sz)

    let answer: u32 = 0
    let depth: usize = 0
    let ref: u32 = root
    while (ref != 0) {
      if (ref & 1) {
        let block: usize = ref & ~15
        const last: usize = block + <usize>((ref >> 1) & 7) * BLOCK_BYTES
        for (; block <= last && answer == 0; block += BLOCK_BYTES) {
          const a3 = f32x4.sub(v128.load(block + kz), okz4)
          const b3 = f32x4.sub(v128.load(block + kz, 48), okz4)
          const c3 = f32x4.sub(v128.load(block + kz, 96), okz4)
          const a1 = f32x4.sub(f32x4.sub(v128.load(block + kx), okx4), f32x4.mul(sx4, a3))
          const b1 = f32x4.sub(f32x4.sub(v128.load(block + kx, 48), okx4), f32x4.mul(sx4, b3))
          const c1 = f32x4.sub(f32x4.sub(v128.load(block + kx, 96), okx4), f32x4.mul(sx4, c3))
          const a2 = f32x4.sub(f32x4.sub(v128.load(block + ky), oky4), f32x4.mul(sy4, a3))
          const b2 = f32x4.sub(f32x4.sub(v128.load(block + ky, 48), oky4), f32x4.mul(sy4, b3))
          const c2 = f32x4.sub(f32x4.sub(v128.load(block + ky, 96), oky4), f32x4.mul(sy4, c3))
          const u = f32x4.sub(f32x4.mul(c1, b2), f32x4.mul(c2, b1))
          const v = f32x4.sub(f32x4.mul(a1, c2), f32x4.mul(a2, c1))
          const w = f32x4.sub(f32x4.mul(b1, a2), f32x4.mul(b2, a1))
          const det = f32x4.add(f32x4.add(u, v), w)
          const t = f32x4.mul(sz4, f32x4.add(f32x4.add(f32x4.mul(u, a3), f32x4.mul(v, b3)), f32x4.mul(w, c3)))
          const sign = v128.and(det, signBit)
          const size = f32x4.abs(det)
          const signedT = v128.xor(t, sign)
          const inside = v128.or(
            f32x4.ge(f32x4.pmin(f32x4.pmin(u, v), w), zero),
            f32x4.le(f32x4.pmax(f32x4.pmax(u, v), w), zero),
          )
          const between = v128.and(
            f32x4.gt(signedT, f32x4.mul(near4, size)),
            f32x4.lt(signedT, f32x4.mul(far4, size)),
          )
          let bits = i32x4.bitmask(v128.and(inside, between))
          if (bits == 0) continue
          const first = (<u32>((block - blocks) / BLOCK_BYTES)) << 2
          do {
            const lane = <u32>ctz(bits)
            bits &= bits - 1
            const slot = first + lane
            const tag = load<u32>(tags + ((<usize>slot) << 2))
            if (((tag >> 24) & mask) == 0) continue
            if (parts != 0 && load<u8>(parts + <usize>(tag & 0xffffff)) == 0) continue
            if (tag & TAG_CUT) {
              v128.store(lanes, f32x4.div(v, det))
              v128.store(lanes, f32x4.div(w, det), 16)
              const at = lanes + ((<usize>lane) << 2)
              if (isCutAway(slot, load<f32>(at), load<f32>(at, 16), diceOf(ray))) continue
            }
            answer = 1
            break
          } while (bits)
        }
        if (answer) break
      } else {
        const node: usize = ref
        const tn0 = f32x4.pmax(
          f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(node + nearX), ox4), ix4), from4),
          f32x4.pmax(
            f32x4.mul(f32x4.sub(v128.load(node + nearY), oy4), iy4),
            f32x4.mul(f32x4.sub(v128.load(node + nearZ), oz4), iz4),
          ),
        )
        const tf0 = f32x4.pmin(
          f32x4.mul(
            slack,
            f32x4.pmin(
              f32x4.mul(f32x4.sub(v128.load(node + farX), ox4), ix4),
              f32x4.pmin(
                f32x4.mul(f32x4.sub(v128.load(node + farY), oy4), iy4),
                f32x4.mul(f32x4.sub(v128.load(node + farZ), oz4), iz4),
              ),
            ),
          ),
          far4,
        )
        const tn1 = f32x4.pmax(
          f32x4.pmax(f32x4.mul(f32x4.sub(v128.load(node + nearX, 16), ox4), ix4), from4),
          f32x4.pmax(
            f32x4.mul(f32x4.sub(v128.load(node + nearY, 16), oy4), iy4),
            f32x4.mul(f32x4.sub(v128.load(node + nearZ, 16), oz4), iz4),
          ),
        )
        const tf1 = f32x4.pmin(
          f32x4.mul(
            slack,
            f32x4.pmin(
              f32x4.mul(f32x4.sub(v128.load(node + farX, 16), ox4), ix4),
              f32x4.pmin(
                f32x4.mul(f32x4.sub(v128.load(node + farY, 16), oy4), iy4),
                f32x4.mul(f32x4.sub(v128.load(node + farZ, 16), oz4), iz4),
              ),
            ),
          ),
          far4,
        )
        let bits = i32x4.bitmask(f32x4.le(tn0, tf0)) | (i32x4.bitmask(f32x4.le(tn1, tf1)) << 4)
        if (bits != 0) {
          const refs = node + 192
          ref = load<u32>(refs + ((<usize>ctz(bits)) << 2))
          bits &= bits - 1
          while (bits) {
            store<u32>(stack + (depth << 2), load<u32>(refs + ((<usize>ctz(bits)) << 2)))
            depth++
            bits &= bits - 1
          }
          continue
        }
      }
      ref = 0
      if (depth > 0) {
        depth--
        ref = load<u32>(stack + (depth << 2))
      }
    }
    store<u8>(blocked + <usize>r, answer)
  }
}

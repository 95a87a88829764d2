// One file: one module of the kernel: kinds of light share their sampling and its memory.
import { angleDown, angleOf, cosineOf, PI, sineOf } from './angles'
import {
  DESK_BLOCKED,
  DESK_BRINGS,
  DESK_FIRST,
  DESK_RAYS,
  DESK_SECOND,
  DESK_STACK,
  DRAW_MOST,
  PARTS_BOX,
  POINT_BYTES,
  POINT_GEOMETRIC,
  POINT_NORMAL,
  POINT_PART,
  POINT_PIXEL,
  POINT_SEED,
  POINT_SLOT,
  POINT_U,
  POINT_V,
  POINT_VIEW,
} from './layout'
import { firstOf, raysOf } from './points'
import { rowOf } from './rays'
import { draw } from './sampling'
import { anyHits } from './trace'

/**
 * What one light brings to points of a surface, in units in which 1 is the full light of a white surface.
 *
 * Light, LIGHT_BYTES:
 *     0 kind u32: 0 parallel, 1 from a place, 2 sky, 3 picture    4 salt u32    8 flags u32
 *    12 parts it lights: address of a byte a part, 0: all
 *    16 direction to it, or its middle (3 f32)    28 full: squared distance at which it gives 1
 *    32 first span of its surface (3 f32)         44 cosine at the rim of its cone
 *    48 second span (3 f32)                       60 cosine where it begins to fade
 *    64 axis, out of its face (3 f32)             76 gain
 *    80 picture: width, height u32; addresses of running sums of the rows, height + 1 f32, of the columns within each
 *       row, height · (width + 1) f32, and of the pixels, 3 f32 each
 *   100 mean weight of the picture f32            104 cosine, 108 sine of how far it is turned
 */
const PARALLEL: u32 = 0
const PLACE: u32 = 1
const SKY: u32 = 2
const SHADOW: u32 = 1
const ROUND: u32 = 2
const FACING: u32 = 4
const CONE: u32 = 8

const SALT: usize = 4
const FLAGS: usize = 8
const LIT: usize = 12
const MIDDLE: usize = 16
const FULL: usize = 28
const FIRST: usize = 32
const RIM: usize = 44
const SECOND: usize = 48
const FADE: usize = 60
const AXIS: usize = 64
const GAIN: usize = 76
const WIDTH: usize = 80
const HEIGHT: usize = 84
const ROWS: usize = 88
const COLUMNS: usize = 92
const PIXELS: usize = 96
const MEAN: usize = 100
const COSINE: usize = 104
const SINE: usize = 108

const FAR: f32 = 1e30

/** Direction and density that {@link drawPicture} found, and colour that {@link lookPicture} did. */
let foundX: f32 = 0
let foundY: f32 = 0
let foundZ: f32 = 0
let red: f32 = 0
let green: f32 = 0
let blue: f32 = 0

/** Index of the last of `count` rising numbers, of which the first is 0, that is not above `value`. */
function lastAtMost(list: usize, count: u32, value: f32): u32 {
  let low: u32 = 0
  let high: u32 = count - 1
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (load<f32>(list + ((<usize>middle) << 2)) <= value) low = middle
    else high = middle - 1
  }
  return low
}

/**
 * A direction in proportion to the picture's brightness: piecewise constant over rows, then columns (Pharr, Jakob &
 * Humphreys 2016, §14.2.4). In the world, turned.
 */
function drawPicture(light: usize, u: f32, v: f32): void {
  const width = load<u32>(light, WIDTH)
  const height = load<u32>(light, HEIGHT)
  const rows: usize = load<u32>(light, ROWS)
  const y = min(height - 1, lastAtMost(rows, height + 1, v))
  const rowAt = rows + ((<usize>y) << 2)
  const rowSpan = load<f32>(rowAt, 4) - load<f32>(rowAt)
  const columns = <usize>load<u32>(light, COLUMNS) + <usize>((y * (width + 1)) << 2)
  const x = min(width - 1, lastAtMost(columns, width + 1, u))
  const columnAt = columns + ((<usize>x) << 2)
  const columnSpan = load<f32>(columnAt, 4) - load<f32>(columnAt)
  const row = (<f32>y + (rowSpan > 0 ? (v - load<f32>(rowAt)) / rowSpan : <f32>0.5)) / <f32>height
  const column = (<f32>x + (columnSpan > 0 ? (u - load<f32>(columnAt)) / columnSpan : <f32>0.5)) / <f32>width
  const down = PI * row
  const round: f32 = <f32>2 * PI * (column - <f32>0.5)
  const level = sineOf(down)
  const px = sineOf(round) * level
  const pz = cosineOf(round) * level
  const cosine = load<f32>(light, COSINE)
  const sine = load<f32>(light, SINE)
  foundX = cosine * px + sine * pz
  foundY = cosineOf(down)
  foundZ = cosine * pz - sine * px
}

/** Colour of the picture in a direction of the world. @returns the density per steradian with which it is drawn. */
function lookPicture(light: usize, wx: f32, wy: f32, wz: f32): f32 {
  const cosine = load<f32>(light, COSINE)
  const sine = load<f32>(light, SINE)
  const x = cosine * wx - sine * wz
  const z = sine * wx + cosine * wz
  const width = load<i32>(light, WIDTH)
  const height = load<i32>(light, HEIGHT)
  const column = <i32>floor((angleOf(x, z) / (<f32>2 * PI) + <f32>0.5) * <f32>width)
  const row = <i32>floor((angleDown(wy) / PI) * <f32>height)
  const cx = min(width - 1, max(0, column))
  const cy = min(height - 1, max(0, row))
  const at = <usize>load<u32>(light, PIXELS) + <usize>(12 * (cy * width + cx))
  red = load<f32>(at)
  green = load<f32>(at, 4)
  blue = load<f32>(at, 8)
  // Never quite 0: every direction must be possible.
  const weight = <f32>0.2126 * red + <f32>0.7152 * green + <f32>0.0722 * blue + <f32>1e-6
  const stretch = sineOf((PI * (<f32>cy + <f32>0.5)) / <f32>height)
  const level = sqrt(max<f32>(0, 1 - wy * wy))
  return (weight * stretch) / load<f32>(light, MEAN) / (<f32>2 * PI * PI * max<f32>(level, <f32>1e-4))
}

/** Four f32 that a ray brings: three numbers of light and a highlight. */
function putBrought(at: usize, a: f32, b: f32, c: f32, highlight: f32): void {
  store<f32>(at, a)
  store<f32>(at, b, 4)
  store<f32>(at, c, 8)
  store<f32>(at, highlight, 12)
}

/**
 * The lobe of Walter et al. 2007 (GGX), scaled to 1 at its peak, for light from a direction.
 * @param width fourth power of the roughness.
 */
function lobeOf(point: usize, dx: f32, dy: f32, dz: f32, width: f32): f32 {
  const hx = dx - load<f32>(point, POINT_VIEW)
  const hy = dy - load<f32>(point, POINT_VIEW + 4)
  const hz = dz - load<f32>(point, POINT_VIEW + 8)
  const squared = hx * hx + hy * hy + hz * hz
  const half: f32 = 1 / sqrt<f32>(squared > 0 ? squared : 1)
  const nh =
    (hx * load<f32>(point, POINT_NORMAL) +
      hy * load<f32>(point, POINT_NORMAL + 4) +
      hz * load<f32>(point, POINT_NORMAL + 8)) *
    half
  const lobe = width / (nh * nh * (width - 1) + 1)
  return lobe * lobe
}

function along(at: usize, dx: f32, dy: f32, dz: f32): f32 {
  return dx * load<f32>(at) + dy * load<f32>(at, 4) + dz * load<f32>(at, 8)
}

function putRay(ray: usize, origin: v128, dx: f32, dy: f32, dz: f32, far: f32): void {
  v128.store(ray, origin)
  store<f32>(ray, dx, 16)
  store<f32>(ray, dy, 20)
  store<f32>(ray, dz, 24)
  store<f32>(ray, far, 28)
}

/** Rays to places on a light that comes from somewhere, from pairs drawn. @returns how many may bring anything. */
function toPlaces(
  light: usize,
  point: usize,
  origin: v128,
  firsts: usize,
  seconds: usize,
  drawn: u32,
  width: f32,
  desk: usize,
): u32 {
  const kind = load<u32>(light)
  const flags = load<u32>(light, FLAGS)
  let ray: usize = load<u32>(desk, DESK_RAYS)
  let brought: usize = load<u32>(desk, DESK_BRINGS)
  const begin = ray
  for (let r: u32 = 0; r < drawn; r++) {
    let a = load<f32>(firsts + ((<usize>r) << 2))
    let b = load<f32>(seconds + ((<usize>r) << 2))
    if (!(flags & ROUND)) {
      a = 2 * a - 1
      b = 2 * b - 1
    }
    let x = load<f32>(light, MIDDLE) + a * load<f32>(light, FIRST) + b * load<f32>(light, SECOND)
    let y = load<f32>(light, MIDDLE + 4) + a * load<f32>(light, FIRST + 4) + b * load<f32>(light, SECOND + 4)
    let z = load<f32>(light, MIDDLE + 8) + a * load<f32>(light, FIRST + 8) + b * load<f32>(light, SECOND + 8)
    let far = FAR
    let given: f32 = 1
    if (kind == PLACE) {
      x -= load<f32>(point)
      y -= load<f32>(point, 4)
      z -= load<f32>(point, 8)
    }
    const squared = x * x + y * y + z * z
    const distance = sqrt(squared)
    const inverse: f32 = distance > 0 ? 1 / distance : 1
    x *= inverse
    y *= inverse
    z *= inverse
    if (kind == PLACE) {
      far = distance
      given = (load<f32>(light, FULL) / (squared > 0 ? squared : 1)) * load<f32>(light, GAIN)
      const cosine = along(light + AXIS, x, y, z)
      if (flags & FACING) given *= max<f32>(0, cosine)
      if (flags & CONE) {
        const rim = load<f32>(light, RIM)
        const t = min<f32>(1, max<f32>(0, (cosine - rim) / max<f32>(<f32>1e-6, load<f32>(light, FADE) - rim)))
        given *= t * t * (3 - 2 * t)
      }
    }
    const facing = along(point + POINT_NORMAL, x, y, z)
    if (given == 0 || facing <= 0 || along(point + POINT_GEOMETRIC, x, y, z) <= 0) continue
    given *= facing
    putRay(ray, origin, x, y, z, far)
    putBrought(brought, given, 0, 0, width > 0 ? given * lobeOf(point, x, y, z, width) : 0)
    ray += 32
    brought += 16
  }
  return <u32>((ray - begin) >> 5)
}

/** Cosine-weighted rays to a sky whose light is split by how much each direction looks up or down. */
function toSky(point: usize, origin: v128, firsts: usize, seconds: usize, drawn: u32, desk: usize): u32 {
  let ray: usize = load<u32>(desk, DESK_RAYS)
  let brought: usize = load<u32>(desk, DESK_BRINGS)
  const begin = ray
  for (let r: u32 = 0; r < drawn; r++) {
    const a = load<f32>(firsts + ((<usize>r) << 2))
    const b = load<f32>(seconds + ((<usize>r) << 2))
    const direction = roundNormal(point, a, b)
    const x = f32x4.extract_lane(direction, 0)
    const y = f32x4.extract_lane(direction, 1)
    const z = f32x4.extract_lane(direction, 2)
    if (along(point + POINT_GEOMETRIC, x, y, z) <= 0) continue
    v128.store(ray, origin)
    v128.store(ray, direction, 16)
    store<f32>(ray, FAR, 28)
    putBrought(brought, <f32>0.5 + <f32>0.5 * y, <f32>0.5 - <f32>0.5 * y, 0, 0)
    ray += 32
    brought += 16
  }
  return <u32>((ray - begin) >> 5)
}

/** The cosine-weighted direction round a point's shading normal of a place on the unit disc. */
export function roundNormal(point: usize, a: f32, b: f32): v128 {
  const c = sqrt(max<f32>(0, 1 - a * a - b * b))
  return f32x4.add(
    f32x4.add(
      f32x4.mul(f32x4.splat(a), rowOf(point + POINT_U, 0)),
      f32x4.mul(f32x4.splat(b), rowOf(point + POINT_V, 0)),
    ),
    f32x4.mul(f32x4.splat(c), rowOf(point + POINT_NORMAL, 0)),
  )
}

/**
 * Rays to a picture of the surroundings: half of them go where it is bright and half where the surface faces, weighted by
 * the balance heuristic (Veach & Guibas 1995).
 * @param isFaced whether those at work go where the surface faces.
 * @param scale how much a ray counts for among those asked.
 */
function toPicture(
  light: usize,
  point: usize,
  origin: v128,
  firsts: usize,
  seconds: usize,
  drawn: u32,
  isFaced: bool,
  scale: f32,
  desk: usize,
): u32 {
  let ray: usize = load<u32>(desk, DESK_RAYS)
  let brought: usize = load<u32>(desk, DESK_BRINGS)
  const begin = ray
  for (let r: u32 = 0; r < drawn; r++) {
    const a = load<f32>(firsts + ((<usize>r) << 2))
    const b = load<f32>(seconds + ((<usize>r) << 2))
    if (isFaced) {
      const direction = roundNormal(point, a, b)
      foundX = f32x4.extract_lane(direction, 0)
      foundY = f32x4.extract_lane(direction, 1)
      foundZ = f32x4.extract_lane(direction, 2)
    } else drawPicture(light, a, b)
    const facing = along(point + POINT_NORMAL, foundX, foundY, foundZ)
    if (facing <= 0 || along(point + POINT_GEOMETRIC, foundX, foundY, foundZ) <= 0) continue
    const density = lookPicture(light, foundX, foundY, foundZ)
    // Irradiance over π: a picture of constant 1 gives 1 to an open surface.
    const weight = (scale * facing) / (PI * <f32>0.5 * (density + facing / PI))
    putRay(ray, origin, foundX, foundY, foundZ, FAR)
    putBrought(brought, red * weight, green * weight, blue * weight, 0)
    ray += 32
    brought += 16
  }
  return <u32>((ray - begin) >> 5)
}

/** A sky is taken for open where less of it could be hidden: a step of 8 bits. */
const FAINT: f32 = 1 / 256

/** Middle and half of the box of what may throw, and the ball around it: see {@link readThrower}. */
let midX: f32 = 0
let midY: f32 = 0
let midZ: f32 = 0
let halfX: f32 = 0
let halfY: f32 = 0
let halfZ: f32 = 0
let radius: f32 = 0
/** How far the light's surface reaches from its middle. */
let spread: f32 = 0

function squareOf(at: usize): f32 {
  return along(at, load<f32>(at), load<f32>(at, 4), load<f32>(at, 8))
}

/** Reads the box of what may throw, min and max x y z. A little larger: sides of triangles are tested in 32 bits. */
function readThrower(light: usize, box: usize): void {
  midX = <f32>0.5 * (load<f32>(box) + load<f32>(box, 12))
  midY = <f32>0.5 * (load<f32>(box, 4) + load<f32>(box, 16))
  midZ = <f32>0.5 * (load<f32>(box, 8) + load<f32>(box, 20))
  const least = <f32>1e-6 * sqrt(midX * midX + midY * midY + midZ * midZ)
  halfX = (load<f32>(box, 12) - midX) * <f32>1.0001 + least
  halfY = (load<f32>(box, 16) - midY) * <f32>1.0001 + least
  halfZ = (load<f32>(box, 20) - midZ) * <f32>1.0001 + least
  radius = sqrt(halfX * halfX + halfY * halfY + halfZ * halfZ)
  spread = load<u32>(light) > PLACE ? 0 : sqrt(squareOf(light + FIRST) + squareOf(light + SECOND))
}

/** Whether the thrower may keep so much of a light from a point that it is seen. False only where it cannot. */
function isReached(light: usize, kind: u32, point: usize): bool {
  const x = midX - load<f32>(point)
  const y = midY - load<f32>(point, 4)
  const z = midZ - load<f32>(point, 8)
  // Nothing of it is above the surface.
  const normal = point + POINT_GEOMETRIC
  const above =
    abs(load<f32>(normal)) * halfX + abs(load<f32>(normal, 4)) * halfY + abs(load<f32>(normal, 8)) * halfZ
  if (along(normal, x, y, z) + above < 0) return false
  if (kind > SKY) return true
  const squared = x * x + y * y + z * z
  const near = radius * radius
  if (kind == SKY) return squared * FAINT < near
  const middle = light + MIDDLE
  if (kind == PARALLEL) {
    const way = along(middle, x, y, z)
    if (way < -radius) return false
    const wide = radius + (way + radius) * spread
    return squared - way * way <= wide * wide
  }
  // As far from the way to the middle of the light as both ends are wide.
  const spanX = load<f32>(middle) - load<f32>(point)
  const spanY = load<f32>(middle, 4) - load<f32>(point, 4)
  const spanZ = load<f32>(middle, 8) - load<f32>(point, 8)
  const whole = spanX * spanX + spanY * spanY + spanZ * spanZ
  const share = min<f32>(1, max<f32>(0, (x * spanX + y * spanY + z * spanZ) / (whole > 0 ? whole : 1)))
  const asideX = x - share * spanX
  const asideY = y - share * spanY
  const asideZ = z - share * spanZ
  const wide = radius + spread
  return asideX * asideX + asideY * asideY + asideZ * asideZ <= wide * wide
}

/** Index of the first point from `from` on that belongs to another pixel. */
function nextPixel(points: usize, from: u32, count: u32): u32 {
  const pixel = load<u32>(points + <usize>from * POINT_BYTES, POINT_PIXEL)
  let next = from + 1
  while (next < count && load<u32>(points + <usize>next * POINT_BYTES, POINT_PIXEL) == pixel) next++
  return next
}

/**
 * What a light brings to each point: four f32, its one to three numbers and, for a light that comes from somewhere, its
 * highlight. A light that has no shadow is taken for open everywhere; parts it does not light get 0.
 * @param rays for each sample of a full pixel of `most` samples.
 * @param widths one f32 a point: fourth power of its roughness, 0 for no highlight. 0: no highlights.
 * @param whole room for four f32 a point more: what would come if nothing were in the way. 0: not wanted. Where it is
 *   wanted and `parts` names what may be in the way, pixels that it cannot reach are not asked about: both are 0 there.
 */
export function lightOf(
  light: usize,
  points: usize,
  count: u32,
  rays: u32,
  most: u32,
  widths: usize,
  mask: u32,
  parts: usize,
  desk: usize,
  out: usize,
  whole: usize,
): void {
  const kind = load<u32>(light)
  const flags = load<u32>(light, FLAGS)
  const salt = load<u32>(light, SALT)
  const lit: usize = load<u32>(light, LIT)
  const rayList: usize = load<u32>(desk, DESK_RAYS)
  const blocked: usize = load<u32>(desk, DESK_BLOCKED)
  const stack: usize = load<u32>(desk, DESK_STACK)
  const firsts: usize = load<u32>(desk, DESK_FIRST)
  const seconds: usize = load<u32>(desk, DESK_SECOND)
  const brings: usize = load<u32>(desk, DESK_BRINGS)
  const hasThrower = whole != 0 && parts != 0
  if (hasThrower) readThrower(light, parts - PARTS_BOX)
  let pixelEnd: u32 = 0
  let reached = true
  for (let i: u32 = 0; i < count; i++) {
    const point = points + <usize>i * POINT_BYTES
    const to = out + ((<usize>i) << 4)
    if (hasThrower && i == pixelEnd) {
      pixelEnd = nextPixel(points, i, count)
      reached = false
      for (let j = i; j < pixelEnd && !reached; j++)
        reached = isReached(light, kind, points + <usize>j * POINT_BYTES)
    }
    if (
      !reached ||
      load<u32>(point, POINT_SLOT) == 0xffffffff ||
      (lit != 0 && load<u8>(lit + <usize>load<u32>(point, POINT_PART)) == 0)
    ) {
      v128.store(to, f32x4.splat(0))
      if (whole != 0) v128.store(whole + ((<usize>i) << 4), f32x4.splat(0))
      continue
    }
    const asked = raysOf(point, rays, most)
    // A picture takes them in pairs; the mean is over those asked, also where that is one.
    const half = kind > SKY ? max<u32>(1, asked >> 1) : 0
    const total: u32 = kind > SKY ? 2 * half : asked
    const first = firstOf(point, total)
    const seed = load<u32>(point, POINT_SEED) ^ salt
    const width: f32 = widths != 0 ? load<f32>(widths + ((<usize>i) << 2)) : 0
    const origin = f32x4.replace_lane(v128.load(point), 3, 0)
    let a: f64 = 0
    let b: f64 = 0
    let c: f64 = 0
    let highlight: f64 = 0
    let wholeA: f64 = 0
    let wholeB: f64 = 0
    let wholeC: f64 = 0
    let wholeHighlight: f64 = 0
    let drawn: u32 = 0
    for (let done: u32 = 0; done < total; done += drawn) {
      const isFaced = done >= half
      drawn = min(DRAW_MOST, (isFaced ? total : half) - done)
      const at = draw(first + done, drawn, seed, kind > PLACE ? isFaced : (flags & ROUND) != 0, desk)
      const sent =
        kind <= PLACE
          ? toPlaces(light, point, origin, firsts + at, seconds + at, drawn, width, desk)
          : kind == SKY
            ? toSky(point, origin, firsts + at, seconds + at, drawn, desk)
            : toPicture(
                light,
                point,
                origin,
                firsts + at,
                seconds + at,
                drawn,
                isFaced,
                <f32>asked / <f32>total,
                desk,
              )
      if (flags & SHADOW) anyHits(rayList, blocked, sent, mask, parts, stack)
      for (let r: u32 = 0; r < sent; r++) {
        const brought = brings + ((<usize>r) << 4)
        wholeA += <f64>load<f32>(brought)
        wholeB += <f64>load<f32>(brought, 4)
        wholeC += <f64>load<f32>(brought, 8)
        wholeHighlight += <f64>load<f32>(brought, 12)
        if (flags & SHADOW && load<u8>(blocked + <usize>r) != 0) continue
        a += <f64>load<f32>(brought)
        b += <f64>load<f32>(brought, 4)
        c += <f64>load<f32>(brought, 8)
        highlight += <f64>load<f32>(brought, 12)
      }
    }
    const share: f64 = 1 / <f64>asked
    store<f32>(to, <f32>(a * share))
    store<f32>(to, <f32>(b * share), 4)
    store<f32>(to, <f32>(c * share), 8)
    store<f32>(to, <f32>(highlight * share), 12)
    if (whole == 0) continue
    const wholeTo = whole + ((<usize>i) << 4)
    store<f32>(wholeTo, <f32>(wholeA * share))
    store<f32>(wholeTo, <f32>(wholeB * share), 4)
    store<f32>(wholeTo, <f32>(wholeC * share), 8)
    store<f32>(wholeTo, <f32>(wholeHighlight * share), 12)
  }
}

/** What a dome looks like where a view ends in nothing: four f32 a point, 0 where it ends on a surface. */
export function skyOf(light: usize, points: usize, count: u32, out: usize): void {
  const kind = load<u32>(light)
  for (let i: u32 = 0; i < count; i++) {
    const point = points + <usize>i * POINT_BYTES
    const to = out + ((<usize>i) << 4)
    v128.store(to, f32x4.splat(0))
    if (load<u32>(point, POINT_SLOT) != 0xffffffff || kind < SKY) continue
    const y = load<f32>(point, POINT_VIEW + 4)
    if (kind == SKY) putBrought(to, <f32>0.5 + <f32>0.5 * y, <f32>0.5 - <f32>0.5 * y, 0, 0)
    else {
      lookPicture(light, load<f32>(point, POINT_VIEW), y, load<f32>(point, POINT_VIEW + 8))
      putBrought(to, red, green, blue, 0)
    }
  }
}

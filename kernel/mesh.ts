// One file: one module of the kernel: its functions share memory laid out at its head.
/**
 * What a mesh needs when it is read: vertices at the same place joined, and smooth normals where a file has none.
 *
 * Arrays, each at an address the host gives: `positions` f32, 3 a vertex, followed by four bytes that may be read;
 * `starts` u32, where the corners of each face begin, one more than faces; `corners` u32, the vertex of each corner;
 * `joined` u32, the joined vertex of each corner.
 */

/** Coefficients of the arc tangent, 16 bytes each, all lanes alike: in memory, where vectors of constants cost least. */
const TABLE_BYTES: usize = 160

function putTable(at: usize): void {
  v128.store(at, f32x4.splat(0.0028662257))
  v128.store(at, f32x4.splat(-0.0161657367), 16)
  v128.store(at, f32x4.splat(0.0429096138), 32)
  v128.store(at, f32x4.splat(-0.07528964), 48)
  v128.store(at, f32x4.splat(0.1065626393), 64)
  v128.store(at, f32x4.splat(-0.1420889944), 80)
  v128.store(at, f32x4.splat(0.1999355085), 96)
  v128.store(at, f32x4.splat(-0.3333314528), 112)
  v128.store(at, f32x4.splat(1.57079633), 128)
  v128.store(at, f32x4.splat(3.14159265), 144)
}

/**
 * Angles of vectors (x, √y²) from the first axis: 0 … π, within 2e-7 (Abramowitz & Stegun 1964, 4.4.49). That of no vector
 * is 0.
 * @param squares f64, of y; @param alongs f64, x; @param angles f32; all three with room for three more than `count`.
 * @param table see {@link putTable}.
 */
function anglesOf(squares: usize, alongs: usize, angles: usize, count: u32, table: usize): void {
  for (let i: usize = 0; i < <usize>count; i += 4) {
    const y0 = f64x2.sqrt(v128.load(squares + (i << 3)))
    const y1 = f64x2.sqrt(v128.load(squares + (i << 3), 16))
    const x0 = v128.load(alongs + (i << 3))
    const x1 = v128.load(alongs + (i << 3), 16)
    const far0 = f64x2.abs(x0)
    const far1 = f64x2.abs(x1)
    const quotient0 = f64x2.div(f64x2.pmin(y0, far0), f64x2.pmax(y0, far0))
    const quotient1 = f64x2.div(f64x2.pmin(y1, far1), f64x2.pmax(y1, far1))
    const quotient = i64x2.shuffle(
      f32x4.demote_f64x2_zero(quotient0),
      f32x4.demote_f64x2_zero(quotient1),
      0,
      2,
    )
    // Zero over zero is no number.
    const t = v128.and(quotient, f32x4.eq(quotient, quotient))
    const s = f32x4.mul(t, t)
    let sum = f32x4.add(f32x4.mul(v128.load(table), s), v128.load(table, 16))
    sum = f32x4.add(f32x4.mul(sum, s), v128.load(table, 32))
    sum = f32x4.add(f32x4.mul(sum, s), v128.load(table, 48))
    sum = f32x4.add(f32x4.mul(sum, s), v128.load(table, 64))
    sum = f32x4.add(f32x4.mul(sum, s), v128.load(table, 80))
    sum = f32x4.add(f32x4.mul(sum, s), v128.load(table, 96))
    sum = f32x4.add(f32x4.mul(sum, s), v128.load(table, 112))
    const small = f32x4.add(t, f32x4.mul(f32x4.mul(sum, s), t))
    const steep = i32x4.shuffle(f64x2.gt(y0, far0), f64x2.gt(y1, far1), 0, 2, 4, 6)
    const acute = v128.bitselect(f32x4.sub(v128.load(table, 128), small), small, steep)
    const back = i32x4.shuffle(x0, x1, 1, 3, 5, 7)
    const turned = f32x4.sub(v128.load(table, 144), acute)
    v128.store(angles + (i << 2), v128.bitselect(turned, acute, i32x4.shr_s(back, 31)))
  }
}

/** The coordinates of two points, read as `a` and `b`, in double precision. */
function xOf(a: v128, b: v128): v128 {
  return f64x2.promote_low_f32x4(i32x4.shuffle(a, b, 0, 4, 0, 4))
}
function yOf(a: v128, b: v128): v128 {
  return f64x2.promote_low_f32x4(i32x4.shuffle(a, b, 1, 5, 1, 5))
}
function zOf(a: v128, b: v128): v128 {
  return f64x2.promote_low_f32x4(i32x4.shuffle(a, b, 2, 6, 2, 6))
}

/** Address of the place of the vertex at a corner. */
function placeOf(positions: usize, corners: usize, corner: u32): usize {
  return positions + 12 * <usize>load<u32>(corners + ((<usize>corner) << 2))
}

/**
 * Unit normals (Newell's method) of two faces with equally many sides, which begin at corners `first` and `second`; they may
 * be the same face. Of each of their corners the two sides' product, along and across: see {@link anglesOf}.
 * @param squares f64, a corner, counted from `base`; @param alongs the same.
 */
function twoFaces(
  positions: usize,
  corners: usize,
  first: u32,
  second: u32,
  sides: u32,
  firstNormal: usize,
  secondNormal: usize,
  squares: usize,
  alongs: usize,
  base: u32,
): void {
  let nx = f64x2.splat(0)
  let ny = f64x2.splat(0)
  let nz = f64x2.splat(0)
  const last = sides - 1
  let a = v128.load(placeOf(positions, corners, first + last))
  let b = v128.load(placeOf(positions, corners, second + last))
  const lastX = xOf(a, b)
  const lastY = yOf(a, b)
  const lastZ = zOf(a, b)
  a = v128.load(placeOf(positions, corners, first))
  b = v128.load(placeOf(positions, corners, second))
  const firstX = xOf(a, b)
  const firstY = yOf(a, b)
  const firstZ = zOf(a, b)
  let px = lastX
  let py = lastY
  let pz = lastZ
  for (let k: u32 = 0; k < sides; k++) {
    a = v128.load(placeOf(positions, corners, first + k))
    b = v128.load(placeOf(positions, corners, second + k))
    const x = xOf(a, b)
    const y = yOf(a, b)
    const z = zOf(a, b)
    nx = f64x2.add(nx, f64x2.mul(f64x2.sub(py, y), f64x2.add(pz, z)))
    ny = f64x2.add(ny, f64x2.mul(f64x2.sub(pz, z), f64x2.add(px, x)))
    nz = f64x2.add(nz, f64x2.mul(f64x2.sub(px, x), f64x2.add(py, y)))
    px = x
    py = y
    pz = z
  }
  const square = f64x2.add(f64x2.add(f64x2.mul(nx, nx), f64x2.mul(ny, ny)), f64x2.mul(nz, nz))
  const length = f64x2.sqrt(square)
  const hasArea = f64x2.gt(length, f64x2.splat(0))
  nx = f32x4.demote_f64x2_zero(v128.and(f64x2.div(nx, length), hasArea))
  ny = f32x4.demote_f64x2_zero(v128.and(f64x2.div(ny, length), hasArea))
  nz = f32x4.demote_f64x2_zero(v128.and(f64x2.div(nz, length), hasArea))
  v128.store32_lane(firstNormal, nx, 0)
  v128.store32_lane(firstNormal, ny, 0, 4)
  v128.store32_lane(firstNormal, nz, 0, 8)
  v128.store32_lane(secondNormal, nx, 1)
  v128.store32_lane(secondNormal, ny, 1, 4)
  v128.store32_lane(secondNormal, nz, 1, 8)

  // From the last corner to the first: what was before a corner is the next one.
  let ax = firstX
  let ay = firstY
  let az = firstZ
  let hx = lastX
  let hy = lastY
  let hz = lastZ
  for (let k = last; ; k--) {
    const before = k == 0 ? last : k - 1
    a = v128.load(placeOf(positions, corners, first + before))
    b = v128.load(placeOf(positions, corners, second + before))
    const bx = xOf(a, b)
    const by = yOf(a, b)
    const bz = zOf(a, b)
    const ux = f64x2.sub(bx, hx)
    const uy = f64x2.sub(by, hy)
    const uz = f64x2.sub(bz, hz)
    const vx = f64x2.sub(ax, hx)
    const vy = f64x2.sub(ay, hy)
    const vz = f64x2.sub(az, hz)
    const along = f64x2.add(f64x2.add(f64x2.mul(ux, vx), f64x2.mul(uy, vy)), f64x2.mul(uz, vz))
    const cx = f64x2.sub(f64x2.mul(uy, vz), f64x2.mul(uz, vy))
    const cy = f64x2.sub(f64x2.mul(uz, vx), f64x2.mul(ux, vz))
    const cz = f64x2.sub(f64x2.mul(ux, vy), f64x2.mul(uy, vx))
    const across = f64x2.add(f64x2.add(f64x2.mul(cx, cx), f64x2.mul(cy, cy)), f64x2.mul(cz, cz))
    const at = (<usize>(first + k - base)) << 3
    const otherAt = (<usize>(second + k - base)) << 3
    v128.store64_lane(squares + at, across, 0)
    v128.store64_lane(squares + otherAt, across, 1)
    v128.store64_lane(alongs + at, along, 0)
    v128.store64_lane(alongs + otherAt, along, 1)
    if (k == 0) break
    ax = hx
    ay = hy
    az = hz
    hx = bx
    hy = by
    hz = bz
  }
}

/** Adds a face to the sums of its vertices, weighted by its angles, from its last corner to its first. */
function addFace(joined: usize, sides: u32, normal: usize, angles: usize, sums: usize): void {
  const across = f64x2.promote_low_f32x4(v128.load64_zero(normal))
  const z = <f64>load<f32>(normal, 8)
  for (let k = sides; k-- > 0;) {
    const angle = <f64>load<f32>(angles + ((<usize>k) << 2))
    const sum = sums + 24 * <usize>load<u32>(joined + ((<usize>k) << 2))
    v128.store(sum, f64x2.add(v128.load(sum), f64x2.mul(across, f64x2.splat(angle))))
    store<f64>(sum, load<f64>(sum, 16) + z * angle, 16)
  }
}

/**
 * Unit normals of all faces, and per joined vertex the sum of its faces' normals weighted by their angles there (Thürmer &
 * Wüthrich 1998), from the last corner to the first.
 * @param starts 0 where all faces are triangles; @param normals f32, 3 a face; @param sums f64, 3 a joined vertex, zero at
 * first; @param desk for work: 256 bytes and 20 a corner of `room`, which is no less than the sides of any face.
 */
export function sumNormals(
  positions: usize,
  starts: usize,
  faces: u32,
  corners: usize,
  joined: usize,
  normals: usize,
  sums: usize,
  desk: usize,
  room: u32,
): void {
  putTable(desk)
  const squares = desk + TABLE_BYTES
  const alongs = squares + ((<usize>room + 4) << 3)
  const angles = alongs + ((<usize>room + 4) << 3)
  let end = faces
  while (end > 0) {
    // As many faces as there is room for, two at a time where they have as many sides.
    const last = startOf(starts, end)
    let begin = end
    while (begin > 0 && last - startOf(starts, begin - 1) <= room) begin--
    const base = startOf(starts, begin)
    for (let f = begin; f < end; f++) {
      const first = startOf(starts, f)
      const second = startOf(starts, f + 1)
      const sides = second - first
      const normal = normals + 12 * <usize>f
      if (f + 1 < end && startOf(starts, f + 2) - second == sides) {
        twoFaces(positions, corners, first, second, sides, normal, normal + 12, squares, alongs, base)
        f++
      } else twoFaces(positions, corners, first, first, sides, normal, normal, squares, alongs, base)
    }
    anglesOf(squares, alongs, angles, last - base, desk)
    for (let f = end; f-- > begin;) {
      const first = startOf(starts, f)
      const own = joined + ((<usize>first) << 2)
      const sides = startOf(starts, f + 1) - first
      addFace(own, sides, normals + 12 * <usize>f, angles + ((<usize>(first - base)) << 2), sums)
    }
    end = begin
  }
}

/**
 * The angles at the corners of the faces round some vertices.
 * @param bent u8, a joined vertex: 1 where they are wanted; @param normals as {@link sumNormals} made them;
 * @param angles f32, a corner and three more: set at all corners of such faces; @param desk and @param room as there.
 */
export function anglesAt(
  positions: usize,
  starts: usize,
  faces: u32,
  corners: usize,
  joined: usize,
  normals: usize,
  bent: usize,
  angles: usize,
  desk: usize,
  room: u32,
): void {
  putTable(desk)
  const squares = desk + TABLE_BYTES
  const alongs = squares + ((<usize>room + 4) << 3)
  // What is written behind the corners of one face belongs to the next, which come later.
  for (let f: u32 = 0; f < faces; f++) {
    const start = startOf(starts, f)
    const end = startOf(starts, f + 1)
    let isWanted = false
    for (let c = start; c < end; c++)
      if (load<u8>(bent + load<u32>(joined + ((<usize>c) << 2))) != 0) isWanted = true
    if (!isWanted) continue
    const normal = normals + 12 * <usize>f
    twoFaces(positions, corners, start, start, end - start, normal, normal, squares, alongs, start)
    anglesOf(squares, alongs, angles + ((<usize>start) << 2), end - start, desk)
  }
}

/** Where a face begins; @param starts 0 where all faces are triangles. */
function startOf(starts: usize, face: u32): u32 {
  return starts == 0 ? 3 * face : load<u32>(starts + ((<usize>face) << 2))
}

/**
 * Makes the unit means of the faces round joined vertices, and marks the vertices whose faces are not all within an angle of
 * theirs.
 * @param starts 0 where all faces are triangles; @param halfCosine of that angle, and a little more than the rounding of
 * the means; @param bent u8, a joined vertex: 1 where marked, may hold marks before; @param means f32, 3 a joined vertex.
 * @returns how many corners are at marked vertices.
 */
export function meanNormals(
  starts: usize,
  faces: u32,
  joined: usize,
  normals: usize,
  sums: usize,
  vertices: u32,
  halfCosine: f64,
  bent: usize,
  means: usize,
): u32 {
  for (let v: u32 = 0; v < vertices; v++) {
    const sum = sums + 24 * <usize>v
    const x = load<f64>(sum)
    const y = load<f64>(sum, 8)
    const z = load<f64>(sum, 16)
    const length = sqrt(x * x + y * y + z * z)
    if (!(length > 0)) store<u8>(bent + v, 1)
    const to = means + 12 * <usize>v
    store<f32>(to, <f32>(x / length))
    store<f32>(to, <f32>(y / length), 4)
    store<f32>(to, <f32>(z / length), 8)
  }
  let start: u32 = 0
  for (let f: u32 = 0; f < faces; f++) {
    const end = startOf(starts, f + 1)
    const normal = normals + 12 * <usize>f
    const x = <f64>load<f32>(normal)
    const y = <f64>load<f32>(normal, 4)
    const z = <f64>load<f32>(normal, 8)
    for (let c = start; c < end; c++) {
      const v = load<u32>(joined + ((<usize>c) << 2))
      const mean = means + 12 * <usize>v
      const along = x * <f64>load<f32>(mean) + y * <f64>load<f32>(mean, 4) + z * <f64>load<f32>(mean, 8)
      if (!(along >= halfCosine)) store<u8>(bent + v, 1)
    }
    start = end
  }
  let count: u32 = 0
  for (let c: u32 = 0; c < start; c++) count += load<u8>(bent + load<u32>(joined + ((<usize>c) << 2)))
  return count
}

/** Of three words of a place. */
function hashOf(x: u32, y: u32, z: u32): u32 {
  let h = x * 0x9e3779b1
  h = (h ^ (h >> 15) ^ y) * 0x85ebca6b
  h = (h ^ (h >> 13) ^ z) * 0xc2b2ae35
  return h ^ (h >> 16)
}

function isNumber(word: u32): bool {
  return (word & 0x7fffffff) <= 0x7f800000
}

/** Whether a vertex is at a place, given as its bits. */
function isAt(places: usize, vertex: u32, x: u32, y: u32, z: u32): bool {
  const known = places + 12 * <usize>vertex
  return (
    load<u32>(known) == x &&
    load<u32>(known, 4) == y &&
    load<u32>(known, 8) == z &&
    isNumber(x) &&
    isNumber(y) &&
    isNumber(z)
  )
}

/** Places looked up ahead of being decided. */
const AHEAD: u32 = 64
/** Vertices met lately, by the low bits of their hash: most corners of a mesh are those of the faces just before. */
const LATELY: u32 = 8192

/**
 * Makes one vertex of all places that are the same, bit for bit (−0 counts as 0), numbered as they first come; what is not
 * a number is never the same.
 * @param places f32, 3 each; −0 becomes 0 there, and the vertices' own places are moved to the front in their order;
 * @param numbers u32, a place: its vertex; @param desk 8 · {@link AHEAD} + 4 · {@link LATELY} bytes for work, zero at first;
 * @param slots where a table may begin, the last thing in the memory, which is zero from there on: it grows as it must;
 * @param expected how many vertices there may be: more cost time.
 * @returns how many vertices there are.
 */
export function joinPlaces(
  places: usize,
  count: u32,
  numbers: usize,
  desk: usize,
  slots: usize,
  expected: u32,
): u32 {
  let capacity: u32 = 64
  while (capacity < 2 * expected) capacity <<= 1
  const lately = desk + ((<usize>AHEAD) << 3)
  let table = slots
  reach(table + ((<usize>capacity) << 2))
  let vertices: u32 = 0
  for (let begin: u32 = 0; begin < count; begin += AHEAD) {
    const end = min(count, begin + AHEAD)
    // Where a run of places may be is looked at before any of them is decided, so that memory is waited for once.
    for (let c = begin; c < end; c++) {
      const at = places + 12 * <usize>c
      let x = load<u32>(at)
      let y = load<u32>(at, 4)
      let z = load<u32>(at, 8)
      if (x == 0x80000000) store<u32>(at, (x = 0))
      if (y == 0x80000000) store<u32>(at, (y = 0), 4)
      if (z == 0x80000000) store<u32>(at, (z = 0), 8)
      const own = desk + ((<usize>(c - begin)) << 3)
      const h = hashOf(x, y, z)
      store<u32>(own, h)
      const late = load<u32>(lately + ((<usize>(h & (LATELY - 1))) << 2))
      store<u32>(
        own,
        late != 0 && isAt(places, late - 1, x, y, z)
          ? late
          : load<u32>(table + ((<usize>(h & (capacity - 1))) << 2)),
        4,
      )
    }
    const looked = table
    for (let c = begin; c < end; c++) {
      const at = places + 12 * <usize>c
      const x = load<u32>(at)
      const y = load<u32>(at, 4)
      const z = load<u32>(at, 8)
      const own = desk + ((<usize>(c - begin)) << 3)
      const h = load<u32>(own)
      const met = lately + ((<usize>(h & (LATELY - 1))) << 2)
      let slot = h & (capacity - 1)
      // A number that was there is there still, unless the table has grown.
      let found: u32 = looked == table ? load<u32>(own, 4) : 0
      if (found == 0) found = load<u32>(table + ((<usize>slot) << 2))
      while (found != 0 && !isAt(places, found - 1, x, y, z)) {
        slot = (slot + 1) & (capacity - 1)
        found = load<u32>(table + ((<usize>slot) << 2))
      }
      if (found != 0) {
        store<u32>(numbers + ((<usize>c) << 2), found - 1)
        store<u32>(met, found)
        continue
      }
      // No place behind this one has been overwritten: there are at most as many vertices as places so far.
      const to = places + 12 * <usize>vertices
      store<u32>(to, x)
      store<u32>(to, y, 4)
      store<u32>(to, z, 8)
      store<u32>(numbers + ((<usize>c) << 2), vertices)
      store<u32>(table + ((<usize>slot) << 2), ++vertices)
      store<u32>(met, vertices)
      if (vertices < capacity >> 1) continue
      // The next table lies behind the last; all of them together are twice as long as it.
      table += (<usize>capacity) << 2
      capacity <<= 1
      reach(table + ((<usize>capacity) << 2))
      for (let v: u32 = 0; v < vertices; v++) {
        const place = places + 12 * <usize>v
        let free = hashOf(load<u32>(place), load<u32>(place, 4), load<u32>(place, 8)) & (capacity - 1)
        while (load<u32>(table + ((<usize>free) << 2)) != 0) free = (free + 1) & (capacity - 1)
        store<u32>(table + ((<usize>free) << 2), v + 1)
      }
    }
  }
  return vertices
}

/** Grows the memory to hold addresses below `end`. */
function reach(end: usize): void {
  const has = (<usize>memory.size()) << 16
  if (end > has) memory.grow(<i32>((end - has + 65535) >> 16))
}

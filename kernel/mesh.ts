/**
 * What a mesh needs when it is read: vertices at the same place joined, and smooth normals where a file has none. All
 * results are those of the same operations one by one in double precision, to the bit.
 *
 * Arrays, each at an address the host gives: `positions` f32, 3 a vertex, followed by four bytes that may be read;
 * `starts` u32, where the corners of each face begin, one more than faces; `corners` u32, the vertex of each corner;
 * `joined` u32, the joined vertex of each corner.
 */

const PI: f64 = 3.141592653589793
const PI_LOW: f64 = 1.2246467991473531772e-16

/** Which lanes of a mask choose `a`, the others `b`. */
function choose(mask: v128, a: v128, b: v128): v128 {
  return v128.bitselect(a, b, mask)
}

/**
 * Angle of two vectors (x, y) from the first axis, y ≥ 0: 0 … π. The steps of the arc tangent in fdlibm (Sun
 * Microsystems 1993), all branches at once, so that the bits are those every engine of JavaScript gives.
 */
function angles2(y: v128, x: v128): v128 {
  const quotient = f64x2.abs(f64x2.div(y, x))
  // Zero over zero is no number: its angle is that of the sign of x.
  const t = choose(f64x2.eq(quotient, quotient), quotient, f64x2.splat(0))
  const one = f64x2.splat(1)
  const is0 = f64x2.ge(t, f64x2.splat(0.4375))
  const is1 = f64x2.ge(t, f64x2.splat(0.6875))
  const is2 = f64x2.ge(t, f64x2.splat(1.1875))
  const is3 = f64x2.ge(t, f64x2.splat(2.4375))
  let above = choose(is0, f64x2.sub(f64x2.mul(f64x2.splat(2), t), one), t)
  let below = choose(is0, f64x2.add(f64x2.splat(2), t), one)
  let high = choose(is0, f64x2.splat(4.63647609000806093515e-1), f64x2.splat(0))
  let low = choose(is0, f64x2.splat(2.26987774529616870924e-17), f64x2.splat(0))
  above = choose(is1, f64x2.sub(t, one), above)
  below = choose(is1, f64x2.add(t, one), below)
  high = choose(is1, f64x2.splat(7.85398163397448278999e-1), high)
  low = choose(is1, f64x2.splat(3.06161699786838301793e-17), low)
  above = choose(is2, f64x2.sub(t, f64x2.splat(1.5)), above)
  below = choose(is2, f64x2.add(one, f64x2.mul(f64x2.splat(1.5), t)), below)
  high = choose(is2, f64x2.splat(9.8279372324732905408e-1), high)
  low = choose(is2, f64x2.splat(1.39033110312309984516e-17), low)
  above = choose(is3, f64x2.splat(-1), above)
  below = choose(is3, t, below)
  high = choose(is3, f64x2.splat(1.570796326794896558), high)
  low = choose(is3, f64x2.splat(6.12323399573676603587e-17), low)
  const r = f64x2.div(above, below)
  const z = f64x2.mul(r, r)
  const w = f64x2.mul(z, z)
  let s1 = f64x2.splat(1.62858201153657823623e-2)
  s1 = f64x2.add(f64x2.splat(4.97687799461593236017e-2), f64x2.mul(w, s1))
  s1 = f64x2.add(f64x2.splat(6.66107313738753120669e-2), f64x2.mul(w, s1))
  s1 = f64x2.add(f64x2.splat(9.09088713343650656196e-2), f64x2.mul(w, s1))
  s1 = f64x2.add(f64x2.splat(1.42857142725034663711e-1), f64x2.mul(w, s1))
  s1 = f64x2.mul(z, f64x2.add(f64x2.splat(3.33333333333329318027e-1), f64x2.mul(w, s1)))
  let s2 = f64x2.splat(-3.6531572744216915527e-2)
  s2 = f64x2.add(f64x2.splat(-5.83357013379057348645e-2), f64x2.mul(w, s2))
  s2 = f64x2.add(f64x2.splat(-7.69187620504482999495e-2), f64x2.mul(w, s2))
  s2 = f64x2.add(f64x2.splat(-1.1111110405462355788e-1), f64x2.mul(w, s2))
  s2 = f64x2.mul(w, f64x2.add(f64x2.splat(-1.99999999998764832476e-1), f64x2.mul(w, s2)))
  const bent = f64x2.mul(r, f64x2.add(s1, s2))
  const angle = f64x2.sub(high, f64x2.sub(f64x2.sub(bent, low), r))
  const turned = f64x2.sub(f64x2.splat(PI), f64x2.sub(angle, f64x2.splat(PI_LOW)))
  return choose(i64x2.shr_s(x, 63), turned, angle)
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
 * Unit normals (Newell's method) and corner angles of two faces with equally many sides, which begin at corners `first`
 * and `second`; they may be the same face.
 */
function twoFaces(
  positions: usize,
  corners: usize,
  first: u32,
  second: u32,
  sides: u32,
  firstNormal: usize,
  secondNormal: usize,
  angles: usize,
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
    const angle = f32x4.demote_f64x2_zero(angles2(f64x2.sqrt(across), along))
    v128.store32_lane(angles + ((<usize>(first + k)) << 2), angle, 0)
    v128.store32_lane(angles + ((<usize>(second + k)) << 2), angle, 1)
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
function addFace(joined: usize, start: u32, end: u32, normal: usize, angles: usize, sums: usize): void {
  const across = f64x2.promote_low_f32x4(v128.load64_zero(normal))
  const z = <f64>load<f32>(normal, 8)
  for (let c = end; c-- > start;) {
    const angle = <f64>load<f32>(angles + ((<usize>c) << 2))
    const sum = sums + 24 * <usize>load<u32>(joined + ((<usize>c) << 2))
    v128.store(sum, f64x2.add(v128.load(sum), f64x2.mul(across, f64x2.splat(angle))))
    store<f64>(sum, load<f64>(sum, 16) + z * angle, 16)
  }
}

/**
 * Unit normals of all faces, the angles of all corners, and per joined vertex the sum of its faces' normals weighted by
 * their angles (Thürmer & Wüthrich 1998), from the last corner to the first.
 * @param normals f32, 3 a face; @param angles f32, a corner; @param sums f64, 3 a joined vertex, zero at first.
 */
export function sumNormals(
  positions: usize,
  starts: usize,
  faces: u32,
  corners: usize,
  joined: usize,
  normals: usize,
  angles: usize,
  sums: usize,
): void {
  for (let f: i32 = <i32>faces - 1; f >= 0;) {
    const end = load<u32>(starts + ((<usize>f) << 2), 4)
    const start = load<u32>(starts + ((<usize>f) << 2))
    const sides = end - start
    let other = start
    if (f > 0) {
      const before = load<u32>(starts + ((<usize>(f - 1)) << 2))
      if (start - before == sides) other = before
    }
    const normal = normals + 12 * <usize>f
    const otherNormal = other == start ? normal : normal - 12
    twoFaces(positions, corners, start, other, sides, normal, otherNormal, angles)
    addFace(joined, start, end, normal, angles, sums)
    f--
    if (other == start) continue
    addFace(joined, other, start, otherNormal, angles, sums)
    f--
  }
}

/**
 * Marks the joined vertices whose faces are not all within an angle of the mean of them, and makes the unit normals of the
 * others.
 * @param halfCosine of that angle; @param bent u8, a joined vertex: 1 where marked, may hold marks before;
 * @param scaled f64, a joined vertex, for work; @param out f32, 3 a joined vertex.
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
  scaled: usize,
  out: usize,
): u32 {
  for (let v: u32 = 0; v < vertices; v++) {
    const sum = sums + 24 * <usize>v
    const x = load<f64>(sum)
    const y = load<f64>(sum, 8)
    const z = load<f64>(sum, 16)
    const length = sqrt(x * x + y * y + z * z)
    store<f64>(scaled + ((<usize>v) << 3), halfCosine * length)
    if (!(length > 0)) store<u8>(bent + v, 1)
    const to = out + 12 * <usize>v
    store<f32>(to, <f32>(x / length))
    store<f32>(to, <f32>(y / length), 4)
    store<f32>(to, <f32>(z / length), 8)
  }
  let start = load<u32>(starts)
  for (let f: u32 = 0; f < faces; f++) {
    const end = load<u32>(starts + ((<usize>f) << 2), 4)
    const normal = normals + 12 * <usize>f
    const x = <f64>load<f32>(normal)
    const y = <f64>load<f32>(normal, 4)
    const z = <f64>load<f32>(normal, 8)
    for (let c = start; c < end; c++) {
      const v = load<u32>(joined + ((<usize>c) << 2))
      const sum = sums + 24 * <usize>v
      const along = x * load<f64>(sum) + y * load<f64>(sum, 8) + z * load<f64>(sum, 16)
      if (!(along >= load<f64>(scaled + ((<usize>v) << 3)))) store<u8>(bent + v, 1)
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

/** Places looked up ahead of being decided. */
const AHEAD: u32 = 64

/**
 * Makes one vertex of all places that are the same, bit for bit (−0 counts as 0), numbered as they first come; what is not
 * a number is never the same.
 * @param places f32, 3 each; −0 becomes 0 there, and the vertices' own places are moved to the front in their order;
 * @param numbers u32, a place: its vertex; @param desk 8 · {@link AHEAD} bytes for work;
 * @param slots where a table may begin, the last thing in the memory: it grows as it must.
 * @returns how many vertices there are.
 */
export function joinPlaces(places: usize, count: u32, numbers: usize, desk: usize, slots: usize): u32 {
  // A closed mesh has half as many vertices as triangles; a table of a third as many entries as corners is half full then.
  let capacity: u32 = 64
  while (capacity < count / 3) capacity <<= 1
  let table = slots
  reach(table + ((<usize>capacity) << 2))
  memory.fill(table, 0, (<usize>capacity) << 2)
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
      store<u32>(own, load<u32>(table + ((<usize>(h & (capacity - 1))) << 2)), 4)
    }
    const looked = table
    for (let c = begin; c < end; c++) {
      const at = places + 12 * <usize>c
      const x = load<u32>(at)
      const y = load<u32>(at, 4)
      const z = load<u32>(at, 8)
      const own = desk + ((<usize>(c - begin)) << 3)
      let slot = load<u32>(own) & (capacity - 1)
      // A number that was there is there still, unless the table has grown.
      let ahead: u32 = looked == table ? load<u32>(own, 4) : 0
      let found: u32 = 0
      for (;;) {
        found = ahead ? ahead : load<u32>(table + ((<usize>slot) << 2))
        ahead = 0
        if (found == 0) break
        const known = places + 12 * <usize>(found - 1)
        if (
          load<u32>(known) == x &&
          load<u32>(known, 4) == y &&
          load<u32>(known, 8) == z &&
          isNumber(x) &&
          isNumber(y) &&
          isNumber(z)
        )
          break
        slot = (slot + 1) & (capacity - 1)
      }
      if (found != 0) {
        store<u32>(numbers + ((<usize>c) << 2), found - 1)
        continue
      }
      // No place behind this one has been overwritten: there are at most as many vertices as places so far.
      const to = places + 12 * <usize>vertices
      store<u32>(to, x)
      store<u32>(to, y, 4)
      store<u32>(to, z, 8)
      store<u32>(numbers + ((<usize>c) << 2), vertices)
      store<u32>(table + ((<usize>slot) << 2), ++vertices)
      if (vertices < capacity >> 1) continue
      // The next table lies behind the last; all of them together are twice as long as it.
      table += (<usize>capacity) << 2
      capacity <<= 1
      reach(table + ((<usize>capacity) << 2))
      memory.fill(table, 0, (<usize>capacity) << 2)
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

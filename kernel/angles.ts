/**
 * Angles in 32 bits, by polynomials: the library's own functions come with tables, and tables would lie where the trees do.
 */
export const PI: f32 = 3.14159265
const HALF: f32 = 1.57079633

/** Sine of an angle within half a turn to both sides: Taylor's series to the eleventh power, within 6e-8. */
export function sineOf(angle: f32): f32 {
  const x = angle > HALF ? PI - angle : angle < -HALF ? -PI - angle : angle
  const s = x * x
  let sum: f32 = <f32>-2.50521084e-8 * s + <f32>2.75573192e-6
  sum = sum * s - <f32>1.98412698e-4
  sum = sum * s + <f32>8.33333333e-3
  sum = sum * s - <f32>0.166666667
  return x + x * s * sum
}

/** Cosine of an angle within half a turn to both sides. */
export function cosineOf(angle: f32): f32 {
  return sineOf(HALF - abs(angle))
}

/** Angle of a direction, −π … π, counted from where `x` is 0 and `z` positive, towards x (Moshier, Cephes, atanf). */
export function angleOf(x: f32, z: f32): f32 {
  const ax = abs(x)
  const az = abs(z)
  const large = max(ax, az)
  if (large == 0) return 0
  let t: f32 = min(ax, az) / large
  let base: f32 = 0
  if (t > <f32>0.41421356) {
    t = (t - 1) / (t + 1)
    base = <f32>0.785398163
  }
  const s = t * t
  const sum: f32 =
    ((<f32>8.05374449538e-2 * s - <f32>1.38776856032e-1) * s + <f32>1.99777106478e-1) * s -
    <f32>3.33329491539e-1
  let angle: f32 = base + t + t * s * sum
  if (ax > az) angle = HALF - angle
  if (z < 0) angle = PI - angle
  return x < 0 ? -angle : angle
}

/** Angle from straight up of a unit direction's height, 0 … π. */
export function angleDown(y: f32): f32 {
  return angleOf(sqrt(max<f32>(0, (1 - y) * (1 + y))), y)
}

/**
 * Share of a unit square that lies in a half-plane, exactly.
 * @param distance from the square's middle to the border, positive inside, in sides of the square.
 * @param nx, ny unit normal of the border; only its slant matters.
 * @returns 0…1. The area of a square cut by a line: a triangle, a trapezoid, or what is left of them.
 */
export function halfPlaneCoverage(distance: number, nx: number, ny: number): number {
  const a = Math.abs(nx)
  const b = Math.abs(ny)
  const long = a > b ? a : b
  const short = a > b ? b : a
  const reach = (long + short) / 2
  if (distance >= reach) return 1
  if (distance <= -reach) return 0
  // By symmetry, the area beyond the border on the nearer side.
  const outside = distance < 0 ? reach + distance : reach - distance
  // Within the corner that the border cuts off first, the area is a triangle; then it grows evenly.
  const area =
    outside < short ? (outside * outside) / (2 * long * Math.max(short, 1e-12)) : (outside - short / 2) / long
  return distance < 0 ? area : 1 - area
}

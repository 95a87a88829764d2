/**
 * A curve through points that rises and falls only where they do: piecewise cubic, Fritsch and Carlson 1980. Level before the
 * first point and after the last.
 * @param points from left to right, each x greater than the one before.
 */
export function monotoneCurve(points: readonly (readonly [number, number])[]): (x: number) => number {
  const last = points.length - 1
  if (last === 0) return () => points[0][1]
  // 1. Slopes of the straight lines, and of the curve at each point.
  const slopes = points.slice(1).map(([x, y], i) => (y - points[i][1]) / (x - points[i][0]))
  const tangents = points.map((_, i) => {
    if (i === 0) return slopes[0]
    if (i === last) return slopes[last - 1]
    return slopes[i - 1] * slopes[i] <= 0 ? 0 : (slopes[i - 1] + slopes[i]) / 2
  })
  // 2. Tangents that would overshoot are shortened onto the circle of radius 3.
  slopes.forEach((slope, i) => {
    // Level, or as good as level: what is divided by it would be no number.
    if (Math.abs(slope) < 1e-12) {
      tangents[i] = 0
      tangents[i + 1] = 0
      return
    }
    const [a, b] = [tangents[i] / slope, tangents[i + 1] / slope]
    const over = a * a + b * b
    if (over <= 9) return
    const k = 3 / Math.sqrt(over)
    tangents[i] = k * a * slope
    tangents[i + 1] = k * b * slope
  })
  return (x) => {
    if (x <= points[0][0]) return points[0][1]
    if (x >= points[last][0]) return points[last][1]
    let i = 0
    while (x >= points[i + 1][0]) i++
    const [x0, y0] = points[i]
    const [x1, y1] = points[i + 1]
    const h = x1 - x0
    const t = (x - x0) / h
    const [t2, t3] = [t * t, t * t * t]
    return (
      y0 * (2 * t3 - 3 * t2 + 1) +
      h * tangents[i] * (t3 - 2 * t2 + t) +
      y1 * (3 * t2 - 2 * t3) +
      h * tangents[i + 1] * (t3 - t2)
    )
  }
}

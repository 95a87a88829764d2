import type { EffectArea } from './effect-kind'

/** A filter of fixed weights: places about a pixel, and how much each counts. */
export class ShiftTaps {
  /** Weights by place, `y` then `x`. */
  private readonly weights = new Map<string, { x: number; y: number; weight: number }>()

  /** Adds a place between pixels to the four about it. In pixels of the view. */
  add(x: number, y: number, weight: number): void {
    const [x0, y0] = [Math.floor(x), Math.floor(y)]
    const [u, v] = [x - x0, y - y0]
    this.addWhole(x0, y0, weight * (1 - u) * (1 - v))
    this.addWhole(x0 + 1, y0, weight * u * (1 - v))
    this.addWhole(x0, y0 + 1, weight * (1 - u) * v)
    this.addWhole(x0 + 1, y0 + 1, weight * u * v)
  }

  private addWhole(x: number, y: number, weight: number): void {
    if (weight < 1e-9) return
    const key = `${y} ${x}`
    const known = this.weights.get(key)
    if (known) known.weight += weight
    else this.weights.set(key, { x, y, weight })
  }

  /** The filter itself, its weights brought to a sum of 1. */
  apply({ window, reach, input, out, kernel, room, numbers }: EffectArea): void {
    const across = window.width + 2 * reach
    const taps = [...this.weights.values()].sort((a, b) => a.y - b.y || a.x - b.x)
    const sum = taps.reduce((total, { weight }) => total + weight, 0)
    const at = room(8 * taps.length)
    const list = numbers(at, 2 * taps.length)
    const whole = new Int32Array(list.buffer, at, 2 * taps.length)
    taps.forEach(({ x, y, weight }, i) => {
      whole[2 * i] = y * across + x
      list[2 * i + 1] = weight / sum
    })
    kernel.sumShifted(input, out, window.width, window.height, reach, at, taps.length)
  }
}

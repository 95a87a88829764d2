/**
 * Gaussian blur of one plane, in place, exact kernel out to 3σ; the border repeats.
 * @param sigmaPx standard deviation in pixels; below 0.05 nothing happens.
 */
export function gaussianBlur(plane: Float32Array, width: number, height: number, sigmaPx: number): void {
  if (sigmaPx < 0.05) return
  const radius = Math.ceil(3 * sigmaPx)
  const kernel = new Float32Array(radius + 1)
  let sum = 0
  for (let k = 0; k <= radius; k++) {
    kernel[k] = Math.exp(-(k * k) / (2 * sigmaPx * sigmaPx))
    sum += k === 0 ? kernel[k] : 2 * kernel[k]
  }
  for (let k = 0; k <= radius; k++) kernel[k] /= sum
  const line = new Float32Array(Math.max(width, height))
  const pass = (start: number, step: number, count: number) => {
    for (let i = 0; i < count; i++) line[i] = plane[start + i * step]
    for (let i = 0; i < count; i++) {
      let value = line[i] * kernel[0]
      for (let k = 1; k <= radius; k++) {
        value += (line[i - k < 0 ? 0 : i - k] + line[i + k >= count ? count - 1 : i + k]) * kernel[k]
      }
      plane[start + i * step] = value
    }
  }
  for (let y = 0; y < height; y++) pass(y * width, 1, width)
  for (let x = 0; x < width; x++) pass(x, width, height)
}

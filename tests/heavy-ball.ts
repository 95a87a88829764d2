/** A dented ball of 4 rows² triangles as binary STL. */
export function ballFile(rows: number): Uint8Array {
  const columns = 2 * rows
  const place = (i: number, j: number): readonly number[] => {
    const [theta, phi] = [0.02 + (i / rows) * (Math.PI - 0.04), (j / columns) * 2 * Math.PI]
    const r = 1 + 0.2 * Math.sin(5 * theta) * Math.cos(4 * phi)
    return [r * Math.sin(theta) * Math.cos(phi), r * Math.cos(theta), r * Math.sin(theta) * Math.sin(phi)]
  }
  const view = new DataView(new ArrayBuffer(84 + 50 * 2 * rows * columns))
  view.setUint32(80, 2 * rows * columns, true)
  let at = 84
  const triangle = (...corners: (readonly number[])[]) => {
    corners.flat().forEach((value, k) => view.setFloat32(at + 12 + 4 * k, value, true))
    at += 50
  }
  for (let i = 0; i < rows; i++)
    for (let j = 0; j < columns; j++) {
      const [a, b, c, d] = [place(i, j), place(i, j + 1), place(i + 1, j + 1), place(i + 1, j)]
      triangle(a, b, c)
      triangle(a, c, d)
    }
  return new Uint8Array(view.buffer)
}

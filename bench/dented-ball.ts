/** A dented ball of half a million quads (a million triangles) as OBJ text. */
export function dentedBall(rows = 500, columns = 1000): Uint8Array {
  const lines: string[] = ['o Ball']
  for (let i = 0; i <= rows; i++) {
    for (let j = 0; j < columns; j++) {
      const [theta, phi] = [(i / rows) * Math.PI, (j / columns) * 2 * Math.PI]
      const r = 1 + 0.12 * Math.sin(9 * theta) * Math.cos(7 * phi)
      const [x, y, z] = [
        r * Math.sin(theta) * Math.cos(phi),
        r * Math.cos(theta),
        r * Math.sin(theta) * Math.sin(phi),
      ]
      lines.push(`v ${x.toFixed(5)} ${y.toFixed(5)} ${z.toFixed(5)}`)
    }
  }
  for (let i = 0; i < rows; i++) {
    for (let j = 0; j < columns; j++) {
      const [a, b] = [i * columns + j + 1, i * columns + ((j + 1) % columns) + 1]
      lines.push(`f ${a} ${b} ${b + columns} ${a + columns}`)
    }
  }
  return new TextEncoder().encode(lines.join('\n'))
}

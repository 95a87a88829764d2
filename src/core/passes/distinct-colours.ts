import { srgbToOklab } from '../math/oklab'

type Rgb = readonly [number, number, number]

/** Steps of each of red, green and blue among which colours are chosen. */
const STEPS = 10
/** More than this are not worth telling apart: the list is gone through again. */
const MOST_COLOURS = 256

interface Candidate {
  readonly rgb: Rgb
  readonly lab: Rgb
}

/** Display colours that are neither nearly black nor nearly white nor grey. */
const candidates = (): Candidate[] => {
  const out: Candidate[] = []
  for (let i = 0; i < STEPS ** 3; i++) {
    const rgb: Rgb = [
      Math.floor(i / STEPS ** 2) / (STEPS - 1),
      (Math.floor(i / STEPS) % STEPS) / (STEPS - 1),
      (i % STEPS) / (STEPS - 1),
    ]
    const lab = srgbToOklab(rgb)
    if (lab[0] > 0.38 && lab[0] < 0.92 && Math.hypot(lab[1], lab[2]) > 0.06) out.push({ rgb, lab })
  }
  return out
}

const apart = (a: Rgb, b: Rgb): number => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2

let chosen: Candidate[] = []

/** The first so many colours, each as far as may be from all before it (in OKLab): of any few, no two are alike. */
function farApart(count: number): readonly Candidate[] {
  const wanted = Math.min(MOST_COLOURS, Math.max(1, count))
  if (chosen.length >= wanted) return chosen.slice(0, wanted)
  const all = candidates()
  // Begins with a clay red: the rest follows from it.
  const list = [
    all.reduce((a, b) => (apart(b.rgb, [0.82, 0.4, 0.24]) < apart(a.rgb, [0.82, 0.4, 0.24]) ? b : a)),
  ]
  const nearest = all.map((c) => apart(c.lab, list[0].lab))
  while (list.length < wanted) {
    let best = 0
    for (let i = 1; i < all.length; i++) if (nearest[i] > nearest[best]) best = i
    list.push(all[best])
    for (let i = 0; i < all.length; i++) nearest[i] = Math.min(nearest[i], apart(all[i].lab, all[best].lab))
  }
  chosen = list
  return list
}

/** Display colours for `count` ids, far apart from each other. At least one. */
export const distinctPalette = (count: number): readonly Rgb[] => farApart(count).map((c) => c.rgb)

/** How many of the free colours are tried for an id. */
const TRIES = 64
/** Times that exchanges are looked for. */
const SWEEPS = 6

/**
 * Gives each of `count` ids its colour of {@link distinctPalette}, so that ids which meet in the picture are far apart.
 * @param near for an id, the ids it meets, and how much.
 * @returns for each id the place of its colour.
 */
export function spreadColours(
  count: number,
  near: ReadonlyMap<number, ReadonlyMap<number, number>>,
): number[] {
  const palette = farApart(count)
  const places: number[] = Array.from({ length: count }, (_, i) => i % palette.length)
  if (count > palette.length) return places
  const weight = (i: number) => [...(near.get(i)?.values() ?? [])].reduce((a, b) => a + b, 0)
  // Those that meet most choose first.
  const order = places
    .map((_, i) => ({ i, weight: weight(i) }))
    .sort((a, b) => b.weight - a.weight || a.i - b.i)
  const free = palette.map((_, place) => place)
  const given = new Map<number, number>()
  for (const { i } of order) {
    const neighbours = [...(near.get(i) ?? [])].filter(([other]) => given.has(other))
    let best = 0
    let bestApart = -1
    for (let k = 0; k < Math.min(TRIES, free.length); k++) {
      const { lab } = palette[free[k]]
      const least = neighbours.reduce(
        (low, [other]) => Math.min(low, apart(lab, palette[given.get(other) ?? 0].lab)),
        Infinity,
      )
      if (least > bestApart) {
        best = k
        bestApart = least
      }
      if (least === Infinity) break
    }
    const [place] = free.splice(best, 1)
    given.set(i, place)
    places[i] = place
  }

  // The last to choose had little choice: exchange two wherever that sets neighbours farther apart.
  const tension = (i: number, place: number, other: number, otherPlace: number): number => {
    let sum = 0
    for (const [j] of near.get(i) ?? []) {
      if (j === i) continue
      const there = j === other ? otherPlace : places[j]
      sum += 1 / (1e-4 + apart(palette[place].lab, palette[there].lab) ** 2)
    }
    return sum
  }
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let changed = false
    for (let i = 0; i < count; i++) {
      for (let j = i + 1; j < count; j++) {
        const [a, b] = [places[i], places[j]]
        if (tension(i, b, j, a) + tension(j, a, i, b) >= tension(i, a, j, b) + tension(j, b, i, a) - 1e-9)
          continue
        places[i] = b
        places[j] = a
        changed = true
      }
    }
    if (!changed) break
  }
  return places
}

import { InvalidValueError } from '../errors'

/** Most numbers that a range may name: a slip of the hand is no reason to wait. */
const MOST = 100_000

/**
 * Numbers that a text names: `all`, or numbers and ranges of them in commas (`1,3-5`), counted from 1.
 * @param count how many there are. @returns each once, in the order in which they are named; counted from 0.
 * @throws {InvalidValueError} naming the piece that is none.
 */
export function numbersNamed(text: string, count: number): number[] {
  const asked = text.trim().toLowerCase()
  if (asked === 'all') return Array.from({ length: count }, (_, i) => i)
  const named = new Set<number>()
  for (const piece of asked.split(',').map((own) => own.trim())) {
    const match = /^(\d{1,7})(?:\s*-\s*(\d{1,7}))?$/.exec(piece)
    const from = Number(match?.[1])
    const to = match?.[2] === undefined ? from : Number(match[2])
    if (!match || from < 1 || to < from || to > count || to - from >= MOST)
      throw new InvalidValueError('sets', `must be all, or numbers and ranges within 1-${count}`, piece)
    for (let number = from; number <= to; number++) named.add(number - 1)
  }
  return [...named]
}

/**
 * Whether a name fits a pattern: `*` stands for any letters or none, `?` for one, `,` between patterns for either of them; large
 * and small letters are alike. A name within groups fits by itself, or with theirs: `Rail / *`.
 * @param path names of its groups, outermost first.
 */
export function fitsPattern(name: string, path: readonly string[], pattern: string): boolean {
  const names = [name, [...path, name].join(' / ')].map((own) => own.trim().toLowerCase())
  return pattern
    .split(',')
    .map((own) =>
      own
        .trim()
        .toLowerCase()
        .replace(/\s*\/\s*/g, ' / '),
    )
    .some((own) => own !== '' && names.some((one) => fits(one, own)))
}

/** Patterns by two pointers and the last star: no pattern is slow, as it would be by a regular expression. */
function fits(name: string, pattern: string): boolean {
  const [letters, wanted] = [[...name], [...pattern]]
  let [n, p, star, from] = [0, 0, -1, 0]
  while (n < letters.length) {
    if (p < wanted.length && wanted[p] === '*') {
      star = p++
      from = n
    } else if (p < wanted.length && (wanted[p] === '?' || wanted[p] === letters[n])) {
      n++
      p++
    } else if (star >= 0) {
      p = star + 1
      n = ++from
    } else return false
  }
  while (wanted[p] === '*') p++
  return p === wanted.length
}

/** A way to rename many parts at once. */
export type RenameRule =
  | { readonly kind: 'replace'; readonly find: string; readonly replace: string; readonly matchCase: boolean }
  /** `#` stands for the number, `##` for at least two digits; without one the number is put behind. */
  | { readonly kind: 'number'; readonly pattern: string; readonly from: number }

const literal = (text: string): string => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** New names in the old order. A name that would become empty stays as it is. */
export function renameAll(names: readonly string[], rule: RenameRule): string[] {
  if (rule.kind === 'replace') {
    if (rule.find === '') return [...names]
    const find = new RegExp(literal(rule.find), rule.matchCase ? 'gu' : 'giu')
    return names.map((name) => name.replace(find, () => rule.replace).trim() || name)
  }
  const pattern = rule.pattern.includes('#') ? rule.pattern : `${rule.pattern} #`
  return names.map(
    (name, i) =>
      pattern
        .replace(/#+/, (marks) => String(Math.trunc(rule.from) + i).padStart(marks.length, '0'))
        .trim() || name,
  )
}

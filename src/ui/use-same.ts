import { useState } from 'react'

/** A list, the same one for as long as its items are. */
export function useSame<T>(list: readonly T[]): readonly T[] {
  const [kept, setKept] = useState(list)
  const isSame = kept.length === list.length && kept.every((item, i) => Object.is(item, list[i]))
  if (!isSame) setKept(list)
  return isSame ? kept : list
}

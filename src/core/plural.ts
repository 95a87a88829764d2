/** A number with what is counted: "1 vertex", "1,200 vertices". */
export const plural = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`

import { safeFileName } from './safe-file-name'

/** A pattern with its words put in (`{shot}_{pass}`); whatever they hold, each step between slashes is one plain name. */
export const fromPattern = (pattern: string, words: Readonly<Record<string, string>>): string =>
  pattern
    .split('/')
    .map((step) =>
      safeFileName(
        step.replace(/\{(\w+)\}/g, (whole, word: string) =>
          Object.hasOwn(words, word) ? words[word] : whole,
        ),
      ),
    )
    .join('/')

/** Words in braces that a pattern has and that are none of those known, each once. */
export const unknownWords = (pattern: string, known: readonly string[]): string[] => [
  ...new Set(
    [...pattern.matchAll(/\{(\w*)\}/g)].map(([, word]) => word).filter((word) => !known.includes(word)),
  ),
]

import { safeFileName } from '@/core/formats/safe-file-name'
import { UsageError } from './usage-error'

/** A pattern of `--name` that gives files below the folder they go to. @throws {UsageError} */
export function checkedPattern(pattern: string): string {
  const steps = pattern.split('/')
  if (steps.some((step) => step.trim() === '' || /^\.+$/.test(step.trim())))
    throw new UsageError(`--name takes a file name, or folders and one below --out (got "${pattern}")`)
  return pattern
}

/** A pattern with its words put in; whatever they hold, each step is one plain name. */
export const fromPattern = (pattern: string, words: Readonly<Record<string, string>>): string =>
  pattern
    .split('/')
    .map((step) => safeFileName(step.replace(/\{(\w+)\}/g, (whole, word: string) => words[word] ?? whole)))
    .join('/')

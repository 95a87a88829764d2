import { UsageError } from './usage-error'

/** A pattern of `--name` that gives files below the folder they go to. @throws {UsageError} */
export function checkedPattern(pattern: string): string {
  const steps = pattern.split('/')
  if (steps.some((step) => step.trim() === '' || /^\.+$/.test(step.trim())))
    throw new UsageError(`--name takes a file name, or folders and one below --out (got "${pattern}")`)
  return pattern
}

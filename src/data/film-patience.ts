import { UnreadableFileError } from '@/core/errors'

/** How long a film may take to open: its reader goes in circles on some that are damaged. Milliseconds, bytes a millisecond. */
const [LEAST_MS, PACE] = [4000, 10_000]

/**
 * Waits for a film to be opened elsewhere.
 * @param opened settles when it is. @param bytes how large it is. @param end ends who opens it.
 * @throws {UnreadableFileError} naming the film where it never comes to an end; what opening it throws.
 */
export async function withinPatience<T>(
  name: string,
  bytes: number,
  opened: Promise<T>,
  end: () => void,
  leastMs = LEAST_MS,
): Promise<T> {
  let timer: ReturnType<typeof setTimeout> | undefined
  const late = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(
      () => {
        reject(new UnreadableFileError(name, 'cannot be read as a film (it leads nowhere)'))
        end()
      },
      leastMs + bytes / PACE,
    )
  })
  try {
    return await Promise.race([opened, late])
  } finally {
    clearTimeout(timer)
  }
}

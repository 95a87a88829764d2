/** Waits until this process is told to end, or whoever began it is gone. */
export function untilEnded(): Promise<void> {
  return new Promise((resolve) => {
    const end = () => resolve()
    process.once('SIGINT', end)
    process.once('SIGTERM', end)
    process.once('disconnect', end)
  })
}

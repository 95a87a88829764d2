import { shareServer } from './bench-page'

/** Before all files of tests: one server for them, ended after them. */
export default async function begin(): Promise<() => void> {
  const server = await shareServer()
  return () => void server.kill()
}

import { spawn, type ChildProcess, type StdioOptions } from 'node:child_process'

/** What a process of the command does before it has read it: where who began it is gone by then, nobody is told. */
const LEAVE = `const leave = () => process.exit(1); process.once('disconnect', leave)`

/**
 * Begins the command anew as a process that ends when this one does, however that ends.
 * @param command address of its module.
 * @param tidies whether it puts things in order itself when it is left, once it has begun.
 */
export function beginOwn(
  command: string,
  call: readonly string[],
  tidies: boolean,
  options: { readonly cwd?: string; readonly env?: NodeJS.ProcessEnv; readonly stdio: StdioOptions },
): ChildProcess {
  const start = `${LEAVE}; import(${JSON.stringify(command)}).then(async (own) => { ${tidies ? "process.off('disconnect', leave); " : ''}process.exitCode = await own.main(process.argv.slice(1)) })`
  // What follows two dashes is the command's own.
  return spawn(process.execPath, ['-e', start, '--', ...call], options)
}

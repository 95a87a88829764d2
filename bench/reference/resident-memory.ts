import { execSync } from 'node:child_process'

/** Resident megabytes of the browser's largest renderer process: a tab with its workers. */
export const residentMb = (): number =>
  Math.max(
    0,
    ...execSync('ps -eo rss,args')
      .toString()
      .split('\n')
      .filter((line) => line.includes('type=renderer'))
      .map((line) => Number(line.trim().split(/\s+/)[0]) / 1024),
  )

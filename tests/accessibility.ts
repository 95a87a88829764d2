import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { BenchPage } from './bench-page'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** What axe-core finds wrong with what is shown, one line each. */
export async function violations(page: BenchPage): Promise<string[]> {
  await page.driver.executeScript(axe)
  return page.driver.executeAsyncScript(
    `const done = arguments[arguments.length - 1]
     axe.run(document, { resultTypes: ['violations'] }).then(({ violations }) =>
       done(violations.flatMap(({ id, nodes }) =>
         nodes.map((n) => id + ': ' + n.html.slice(0, 140) + ' ' + (n.failureSummary || '').replace(/\\s+/g, ' ').slice(0, 200)))))`,
  )
}

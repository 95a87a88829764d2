// Runs the headless command again and again in a thread of a test, which waits for each run.
import { parentPort } from 'node:worker_threads'
import { bundleCommand } from '../../scripts/bundle.mjs'

const { commandUrl } = await bundleCommand()
const { main } = await import(commandUrl)
const said = { stdout: '', stderr: '' }
for (const stream of ['stdout', 'stderr'])
  process[stream].write = (text) => {
    said[stream] += text
    return true
  }

parentPort.on('message', async ({ args, port, done }) => {
  said.stdout = said.stderr = ''
  let status = 1
  try {
    status = await main(args)
  } catch (error) {
    said.stderr += String(error?.stack ?? error)
  }
  port.postMessage({ status, ...said })
  Atomics.store(done, 0, 1)
  Atomics.notify(done, 0)
})

import { expect, it } from 'vitest'
import { answerRequests, movable } from './answer-requests'
import { WorkerChannel, type SpawnWorker } from './worker-channel'

type Request =
  | { type: 'double'; request: number; value: number }
  | { type: 'never'; request: number }
  | { type: 'fail'; request: number }
type Reply = { type: 'doubled'; request: number; value: number } | { type: 'nothing'; request: number }

const parse = (message: unknown): Request => {
  const { type } = message as Request
  if (!['double', 'never', 'fail'].includes(type)) throw new TypeError(`${type} is no request`)
  return message as Request
}

/** A worker in this thread whose replies come in another order than its requests. */
function fake() {
  const state = { broken: (_reason: string) => {}, closed: 0, moved: [] as (readonly object[])[] }
  const spawn: SpawnWorker = (onMessage, onError) => {
    state.broken = onError
    const serve = answerRequests<Request, Reply>(
      parse,
      async (message, tell) => {
        if (message.type === 'fail') throw new RangeError('too far')
        if (message.type === 'never') return new Promise(() => undefined)
        tell(0.5, 'half')
        await new Promise((resolve) => setTimeout(resolve, 10 - message.value))
        return { reply: { type: 'doubled', request: message.request, value: 2 * message.value } }
      },
      onMessage,
    )
    return {
      post: (message, transfer = []) => {
        state.moved.push(transfer)
        void serve(message)
      },
      close: () => void state.closed++,
    }
  }
  return { state, spawn }
}
const open = () => {
  const { state, spawn } = fake()
  return { state, channel: new WorkerChannel<Request, Reply>(spawn) }
}

it('gives each who asks their own answer, in whatever order answers come', async () => {
  const { channel } = open()
  const told: unknown[] = []
  const answers = await Promise.all([
    channel.ask({ type: 'double', value: 1 }, 'doubled', {
      onProgress: (share, stage) => told.push([share, stage]),
    }),
    channel.ask({ type: 'double', value: 7 }, 'doubled'),
  ])
  expect(answers.map(({ value }) => value)).toEqual([2, 14])
  expect(told).toEqual([[0.5, 'half']])
})

it('fails with the name and the words of what failed in the worker, and goes on', async () => {
  const { channel } = open()
  await expect(channel.ask({ type: 'fail' }, 'nothing')).rejects.toMatchObject({
    name: 'RangeError',
    message: 'too far',
  })
  await expect(channel.ask({ type: 'double', value: 2 }, 'nothing')).rejects.toThrow(
    'expected nothing, got doubled',
  )
  expect((await channel.ask({ type: 'double', value: 2 }, ['nothing', 'doubled'])).type).toBe('doubled')
})

it('answers what is no request, or its asker would wait for ever', async () => {
  const { channel } = open()
  await expect(channel.ask({ type: 'nonsense' } as never, 'nothing')).rejects.toThrow(
    'nonsense is no request',
  )
})

it('fails what waits, and all that is asked later, once it is closed or the worker breaks', async () => {
  const closed = open()
  const waiting = closed.channel.ask({ type: 'never' }, 'nothing')
  closed.channel.close(new Error('ended'))
  await expect(waiting).rejects.toThrow('ended')
  await expect(closed.channel.ask({ type: 'double', value: 1 }, 'doubled')).rejects.toThrow('ended')
  expect(closed.state.closed).toBe(1)

  const { state, spawn } = fake()
  let told = ''
  const channel = new WorkerChannel<Request, Reply>(spawn, (error) => (told = error.message))
  const lost = channel.ask({ type: 'never' }, 'nothing')
  state.broken('out of memory')
  await expect(lost).rejects.toThrow('out of memory')
  expect(told).toBe('out of memory')
})

it('moves buffers that can move, and leaves what threads share', async () => {
  const own = new Uint8Array(4)
  const shared = new Uint8Array(new SharedArrayBuffer(4))
  expect(movable([own, shared, null, 'text', own.subarray(1)])).toEqual([own.buffer, own.buffer])
  const { state, channel } = open()
  await channel.ask({ type: 'double', value: 3 }, 'doubled', { transfer: [own.buffer] })
  expect(state.moved).toEqual([[own.buffer]])
})

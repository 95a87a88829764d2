import { expect, it } from 'vitest'
import { RankedQueue } from './ranked-queue'

/** A queue whose work notes itself, and a gate that holds the first of it. */
function open() {
  const done: string[] = []
  const queue = new RankedQueue(() => Promise.resolve())
  let letGo = (): void => undefined
  queue.add(0, () => new Promise((resolve) => (letGo = resolve)))
  const note = (name: string) => () => {
    done.push(name)
    return Promise.resolve()
  }
  const ended = async () => {
    letGo()
    await new Promise((resolve) => setTimeout(resolve, 5))
    return done
  }
  return { queue, note, ended }
}

it('takes the lowest rank first, and of one rank what came first', async () => {
  const { queue, note, ended } = open()
  queue.add(3, note('card'))
  queue.add(1, note('view'))
  queue.add(0, note('patch'))
  queue.add(1, note('view again'))
  expect(await ended()).toEqual(['patch', 'view', 'view again', 'card'])
})

it('lets nothing past what others rely on', async () => {
  const { queue, note, ended } = open()
  queue.add(3, note('a card of the pass before'))
  queue.addBarrier(note('a pass'))
  queue.add(0, note('patch'))
  queue.addBarrier(note('a picture'))
  queue.add(0, note('last'))
  expect(await ended()).toEqual(['a card of the pass before', 'a pass', 'patch', 'a picture', 'last'])
})

it('goes on after work that failed, and takes what work puts in', async () => {
  const { queue, note, ended } = open()
  queue.add(1, () => Promise.reject(new Error('lost')))
  queue.add(2, () => {
    queue.add(1, note('from within'))
    return Promise.resolve()
  })
  queue.add(4, note('after'))
  expect(await ended()).toEqual(['from within', 'after'])
})

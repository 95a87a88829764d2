import { Worker } from 'node:worker_threads'
import type { KeptTiles } from '@/core/sheet/evaluate/kept-tiles'
import type { Sheet } from '@/core/sheet/sheet-schema'
import { SheetHands, sheetName, type SpawnHand } from './sheet-hands'
import { sharedPass, sharedPicture, type SheetStore } from './sheet-store'

const spawn: SpawnHand = (onReady, onBroken) => {
  const worker = new Worker(new URL('./node-hand.mjs', import.meta.url))
  worker.once('message', onReady)
  worker.once('error', onBroken)
  return { post: (message) => worker.postMessage(message), close: () => void worker.terminate() }
}

/**
 * Threads of Node that paint beside this one, once they can.
 * @param tiles over memory that threads share.
 */
export async function nodeHands(
  tiles: KeptTiles,
  count: number,
  sheet: Sheet,
  { passes, pictures, paint, fonts }: SheetStore,
): Promise<SheetHands> {
  const hands = new SheetHands(tiles.memory, count, spawn)
  hands.tell(sheetName(null), { type: 'sheet', beside: null, sheet })
  for (const [passId, pass] of passes) {
    const own = { ...pass, result: sharedPass(pass.result) }
    passes.set(passId, own)
    hands.tell(`pass ${passId}`, { type: 'pass', passId, pass: own })
  }
  for (const [pictureId, stored] of pictures) {
    const own = { ...stored, picture: sharedPicture(stored.picture) }
    pictures.set(pictureId, own)
    hands.tell(`picture ${pictureId}`, { type: 'picture', pictureId, picture: own })
  }
  for (const [name, own] of paint) {
    const words = new Uint16Array(new SharedArrayBuffer(own.byteLength))
    words.set(own)
    paint.set(name, words)
    hands.tell(`paint ${name}`, { type: 'paint-tile', name, words })
  }
  for (const [fontId, files] of fonts) hands.tell(`font ${fontId}`, { type: 'font', fontId, files })
  await hands.allReady
  return hands
}

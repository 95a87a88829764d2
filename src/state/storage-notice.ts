import { create } from 'zustand'
import { database } from '@/data/database'
import { flushSave } from './project-store'

/** What stands between this tab and the browser's storage, told wherever one is. */
export type StorageNotice =
  /** Another tab runs a newer version: this one may not write any more. */
  | 'newer elsewhere'
  /** Older tabs keep this one from opening its storage. */
  | 'older elsewhere'

export const useStorageNotice = create<{ readonly notice: StorageNotice | null }>(() => ({ notice: null }))

export const storageNoticeTexts: Readonly<Record<StorageNotice, string>> = {
  'newer elsewhere':
    'A newer version of Muted Relief is open in another tab and has changed how projects are stored. Reload this tab to go on; what you did here is kept.',
  'older elsewhere':
    'An older version of Muted Relief is open in another tab and holds the storage. Close or reload that tab; this one then goes on by itself.',
}

database.on('versionchange', () => {
  useStorageNotice.setState({ notice: 'newer elsewhere' })
  // The last edits go out before the door is closed; what does not stands in the journal.
  void flushSave().finally(() => database.close())
  return false
})
database.on('blocked', () => useStorageNotice.setState({ notice: 'older elsewhere' }))
database.on('ready', () => {
  if (useStorageNotice.getState().notice === 'older elsewhere') useStorageNotice.setState({ notice: null })
})

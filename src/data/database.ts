import type { EntityTable } from 'dexie'
import { Dexie } from 'dexie'
import type { PassKindName } from '@/core/passes/registry'
import type { ChannelData } from '@/core/picture/channel'

export interface ProjectRow {
  id: string
  name: string
  updatedAt: number
  /** Set when deleted; the row is cleared for good on a later start. */
  deletedAt: number | null
  /** A validated project document. */
  document: unknown
  /** PNG. */
  thumbnail: Uint8Array<ArrayBuffer> | null
}
export interface FileRow {
  /** `{projectId}/{fileId}`. */
  key: string
  projectId: string
  name: string
  bytes: Uint8Array<ArrayBuffer>
}
export interface ResultRow {
  /** `{projectId}/{resultId}`. */
  key: string
  projectId: string
  kind: PassKindName
  width: number
  height: number
  channels: ChannelData[]
}

/** Everything the application keeps, in this browser. */
export const database = new Dexie('muted-relief') as Dexie & {
  projects: EntityTable<ProjectRow, 'id'>
  files: EntityTable<FileRow, 'key'>
  results: EntityTable<ResultRow, 'key'>
  settings: EntityTable<{ key: string; value: unknown }, 'key'>
}
database.version(1).stores({
  projects: 'id, updatedAt, deletedAt',
  files: 'key, projectId',
  results: 'key, projectId',
  settings: 'key',
})

import type { EntityTable } from 'dexie'
import { Dexie } from 'dexie'
import type { LineDrawing } from '@/core/lines/line-drawing'
import type { PassFacts } from '@/core/passes/pass-facts'
import type { Tile } from '@/core/passes/tile'
import type { PassKindName } from '@/core/passes/registry'
import type { ChannelData } from '@/core/picture/channel'

export interface ProjectRow {
  id: string
  name: string
  updatedAt: number
  /** Set when deleted; the row is cleared for good on a later start. */
  deletedAt: number | null
  /** Number of the last edit that the document holds; 0 in rows of before there were numbers. */
  edit?: number
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
  /** Lines, for passes that have some. */
  drawing?: LineDrawing | null
}

/** What of a project can be taken back and done again; see history.ts. */
export interface HistoryRow {
  projectId: string
  /** Number of the last edit of the project that it is of. */
  edit: number
  /** Steps as JSON: each leads from the one behind it, the last from the project. */
  past: string[]
  future: string[]
}

/** A render under way; see render-jobs.ts. */
export interface JobRow {
  id: string
  projectId: string
  record: unknown
}
/** A finished block of one pass of it. */
export interface BlockRow {
  /** `{jobId}/{passId}/{block}`. */
  key: string
  jobId: string
  passId: string
  block: number
  rect: Tile
  channels: ChannelData[]
  /** What its tiles told of the picture. */
  told: PassFacts
}

/** Everything the application keeps, in this browser. */
export const database = new Dexie('muted-relief') as Dexie & {
  projects: EntityTable<ProjectRow, 'id'>
  files: EntityTable<FileRow, 'key'>
  results: EntityTable<ResultRow, 'key'>
  jobs: EntityTable<JobRow, 'id'>
  blocks: EntityTable<BlockRow, 'key'>
  histories: EntityTable<HistoryRow, 'projectId'>
  settings: EntityTable<{ key: string; value: unknown }, 'key'>
}
database.version(1).stores({
  projects: 'id, updatedAt, deletedAt',
  files: 'key, projectId',
  results: 'key, projectId',
  settings: 'key',
})
database.version(2).stores({ jobs: 'id, projectId', blocks: 'key, jobId' })
database.version(3).stores({ histories: 'projectId' })

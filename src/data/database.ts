import type { EntityTable, Table } from 'dexie'
import { Dexie } from 'dexie'
import type { LineDrawing } from '@/core/lines/line-drawing'
import type { PassFacts } from '@/core/passes/pass-facts'
import type { Tile } from '@/core/passes/tile'
import type { PassKindName } from '@/core/passes/registry'
import type { ChannelData, ChannelFormat } from '@/core/picture/channel'

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
/** Where the tiles of a plane lie. */
export interface TiledPlane {
  readonly format: ChannelFormat
  /** Side of a tile; those at the right and at the bottom are cut short. Pixels. */
  readonly side: number
  /** Names, row by row from the top. */
  readonly names: readonly string[]
}

/** A rendered pass. */
interface ResultHead {
  /** `{projectId}/{resultId}`. */
  key: string
  projectId: string
  kind: PassKindName
  width: number
  height: number
  /** Lines, for passes that have some. */
  drawing?: LineDrawing | null
}
interface TiledResultRow extends ResultHead {
  planes: TiledPlane[]
  /** Names of all its tiles, each once: what is listed here stays. */
  tiles: string[]
  channels?: undefined
}
/** A row of before there were tiles. */
interface WholeResultRow extends ResultHead {
  channels: ChannelData[]
  planes?: undefined
  tiles?: undefined
}
export type ResultRow = TiledResultRow | WholeResultRow

/** Part of a plane of numbers, stored once however often it is shown; see tiles.ts. */
export interface TileRow {
  /** Made of the content. */
  name: string
  bytes: Uint8Array<ArrayBuffer>
}

/** How a page or a mock-up of a poster looked when it was seen last; see looks.ts. */
export interface LookRow {
  /** `{projectId}/{sheetId}`. */
  key: string
  projectId: string
  sheetId: string
  /** PNG. */
  bytes: Uint8Array<ArrayBuffer>
}

/** A frame of a turntable; see stored-frames.ts. */
export interface FrameRow {
  /** `{projectId}/{name}`. */
  key: string
  projectId: string
  /** When it was made; milliseconds since 1970. */
  at: number
  /** Bytes. */
  size: number
  /** PNG. */
  picture: Blob
}

/** What was painted by hand in a project; see stored-paint.ts. */
export interface PaintRow {
  projectId: string
  /** Names of all its tiles, each once: what is listed here stays. */
  tiles: string[]
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

/** A recipe that was saved or brought in; see recipes/stored-recipes.ts. */
export interface RecipeRow {
  id: string
  name: string
  note: string
  savedAt: number
  /** Set when deleted; the row is cleared for good on a later start. */
  deletedAt: number | null
  /** The recipe as a file. */
  file: Uint8Array<ArrayBuffer>
  /** PNG of how it looked where it was made. */
  seen: Uint8Array<ArrayBuffer> | null
}

/** Everything the application keeps, in this browser. */
export const database = new Dexie('muted-relief') as Dexie & {
  projects: EntityTable<ProjectRow, 'id'>
  files: EntityTable<FileRow, 'key'>
  results: Table<ResultRow, string>
  tiles: EntityTable<TileRow, 'name'>
  paints: EntityTable<PaintRow, 'projectId'>
  looks: EntityTable<LookRow, 'key'>
  frames: EntityTable<FrameRow, 'key'>
  jobs: EntityTable<JobRow, 'id'>
  blocks: EntityTable<BlockRow, 'key'>
  histories: EntityTable<HistoryRow, 'projectId'>
  recipes: EntityTable<RecipeRow, 'id'>
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
database.version(4).stores({ tiles: 'name', results: 'key, projectId, *tiles' })
database.version(5).stores({ recipes: 'id, savedAt' })
database.version(6).stores({ paints: 'projectId, *tiles' })
database.version(7).stores({ looks: 'key, projectId' })
database.version(8).stores({ frames: 'key, projectId, [projectId+at+size]' })

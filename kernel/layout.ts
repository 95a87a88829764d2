/**
 * How the hierarchy lies in memory. All pointers are byte addresses in the one linear memory; a finished tree always
 * begins at TREE, so it can be copied to another memory as it is.
 *
 * Node, 224 bytes: planes as structure of arrays, eight f32 each, min x y z then max x y z; eight u32 references.
 *   An empty lane is (+∞, −∞) and reference 0.
 * Reference: 0 none; even: a node's address; odd: a leaf, (address of its first block) | 1 | (blocks − 1) << 1.
 * Block, 144 bytes: four triangles: x of corner 0 × 4, y × 4, z × 4, then corners 1 and 2. Empty lanes are all 0 and
 *   are never hit, having no area.
 * Slot: 4 · (number of the block) + lane. Per slot one u32 of `tags` (mask << 24 | part) and one u32 of `ids`.
 */
export const TREE: usize = 1024
export const NODE_BYTES: usize = 224
export const BLOCK_BYTES: usize = 144
export const BLOCK_MOST: u32 = 8

/** Head of a tree, u32 each, at HEAD. */
export const HEAD: usize = 64
export const HEAD_ROOT: usize = 0
export const HEAD_BLOCKS: usize = 4
export const HEAD_TAGS: usize = 8
/** Per triangle a u32: address of its cut-out, or 0. The address of the table is 0 where there is none. */
export const HEAD_CUTS: usize = 12
export const HEAD_IDS: usize = 16
export const HEAD_END: usize = 20
export const HEAD_NODE_COUNT: usize = 24
export const HEAD_BLOCK_COUNT: usize = 28

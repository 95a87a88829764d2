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
/** Nine f32 a triangle, by its number: unit shading normals of the corners; 0 where the tree has none. */
export const HEAD_NORMALS: usize = 32
/** How many triangles have normals. */
export const HEAD_TRIANGLES: usize = 36

/**
 * A point of a surface, POINT_BYTES. The host writes what is marked ·, `loadPoints` the rest; see points.ts.
 *
 *     0 start x y z f32, where secondary rays begin     ·  12 slot u32, 0xffffffff: the view ends in nothing
 *    16 geometric normal, towards the viewer            ·  28 share f32, of its pixel
 *    32 shading normal, towards the viewer              ·  44 pixel u32, of the tile
 *    48 first direction across the shading normal       ·  60 seed u32, of the pixel's sequence
 *    64 second direction across it                      ·  76 order u32, place of the pixel in the sequence
 *    80 the point on the triangle                       ·  92 run u32: sample | the pixel's samples << 16
 *    96 the point on the smooth surface                   108 part u32
 *  ·112 direction of the view, f32                        124 triangle u32
 *  ·128 weights of corners 1 and 2, f64
 *
 * Run 0 is a point that belongs to one ray alone: `order` is then the index of its first number itself.
 */
export const POINT_BYTES: usize = 144
export const POINT_SLOT: usize = 12
export const POINT_GEOMETRIC: usize = 16
export const POINT_SHARE: usize = 28
export const POINT_NORMAL: usize = 32
export const POINT_PIXEL: usize = 44
export const POINT_U: usize = 48
export const POINT_SEED: usize = 60
export const POINT_V: usize = 64
export const POINT_ORDER: usize = 76
export const POINT_ON: usize = 80
export const POINT_RUN: usize = 92
export const POINT_SMOOTH: usize = 96
export const POINT_PART: usize = 108
export const POINT_VIEW: usize = 112
export const POINT_TRIANGLE: usize = 124
export const POINT_WEIGHTS: usize = 128

/** A table of parts, one byte each, has the box of those that are in before it: min x y z, max x y z, f32. */
export const PARTS_BOX: usize = 32

/** Addresses a thread works at, u32 each, in a desk of its own. */
export const DESK_RAYS: usize = 0
export const DESK_HITS: usize = 4
export const DESK_BLOCKED: usize = 8
export const DESK_STACK: usize = 12
/** Numbers drawn for the rays at work: DRAW_MOST f32 each of first and second. */
export const DESK_FIRST: usize = 16
export const DESK_SECOND: usize = 20
/** What each of the rays at work brings: 16 bytes a ray. */
export const DESK_BRINGS: usize = 24
/** Rays drawn and traced at once for one point. */
export const DRAW_MOST: u32 = 1024

/** A camera, f64 each: axes of unit length, half the picture at distance 1 (or in world units), its middle, its pixels. */
export const CAMERA_EYE: usize = 0
export const CAMERA_RIGHT: usize = 24
export const CAMERA_UP: usize = 48
/** From the target to the eye. */
export const CAMERA_BACK: usize = 72
export const CAMERA_HALF_WIDTH: usize = 96
export const CAMERA_HALF_HEIGHT: usize = 104
export const CAMERA_CENTRE_X: usize = 112
export const CAMERA_CENTRE_Y: usize = 120
export const CAMERA_WIDTH: usize = 128
export const CAMERA_HEIGHT: usize = 136
/** Distance that is sharp, 0 where all is; and the share of the picture's height that an endlessly far point spreads over. */
export const CAMERA_FOCUS: usize = 144
export const CAMERA_SPOT: usize = 152
/** Not 0: a parallel projection. */
export const CAMERA_PARALLEL: usize = 160

/** What a sample sees: slot u32, distance and weights of corners 1 and 2, f64. */
export const SAMPLE_BYTES: usize = 32
export const SAMPLE_DISTANCE: usize = 8
export const SAMPLE_WEIGHTS: usize = 16

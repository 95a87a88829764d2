/** A picture of a texture, decoded. Rows from the top, as texture coordinates here run. */
export interface SceneTexture {
  readonly width: number
  readonly height: number
  /** Uint8Array, 4·width·height: display red, green, blue and straight alpha. */
  readonly rgba: Uint8Array
}

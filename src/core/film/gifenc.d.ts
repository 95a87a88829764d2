declare module 'gifenc' {
  interface FrameOptions {
    /** Colours as [r, g, b]; needed for the first frame, which makes it that of all. */
    readonly palette?: readonly (readonly number[])[]
    /** Milliseconds. */
    readonly delay?: number
    readonly transparent?: boolean
    readonly transparentIndex?: number
    /** −1 plays once, 0 again and again, else so many times more. */
    readonly repeat?: number
    /** 1 leaves the frame, 2 clears it. */
    readonly dispose?: number
  }
  interface Encoder {
    readonly stream: { reset(): void }
    bytes(): Uint8Array<ArrayBuffer>
    writeFrame(index: Uint8Array, width: number, height: number, options: FrameOptions): void
    finish(): void
  }
  export function GIFEncoder(): Encoder
  export function quantize(
    rgba: Uint8Array | Uint8ClampedArray,
    maxColors: number,
    options?: { readonly format?: 'rgb565' | 'rgb444' | 'rgba4444' },
  ): number[][]
}

/** Endings of the pictures that are read, wherever one is asked for: layers, masks, domes. */
export const PICTURE_EXTENSIONS = ['png', 'jpg', 'jpeg', 'webp', 'hdr', 'exr'] as const

/** What a file dialog offers. */
export const PICTURE_ACCEPT = PICTURE_EXTENSIONS.map((e) => `.${e}`).join(',')

/** The kinds in words: "PNG, JPEG, WebP, HDR and EXR". */
export const PICTURE_KINDS = 'PNG, JPEG, WebP, HDR and EXR'

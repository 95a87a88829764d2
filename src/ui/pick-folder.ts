type FolderPicker = (options: { readonly mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>

/** Lets the person choose a folder to write to (File System Access, WICG); null where the browser cannot. */
export const folderPicker = (): FolderPicker | null =>
  typeof window !== 'undefined' && 'showDirectoryPicker' in window
    ? (options) => (window as unknown as { showDirectoryPicker: FolderPicker }).showDirectoryPicker(options)
    : null

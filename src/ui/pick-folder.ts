declare global {
  interface Window {
    showDirectoryPicker?: FolderPicker
  }
}

type FolderPicker = (options: { readonly mode: 'readwrite' }) => Promise<FileSystemDirectoryHandle>

/** Lets the person choose a folder to write to (File System Access, WICG); null where the browser cannot. */
export const folderPicker = (): FolderPicker | null =>
  typeof window !== 'undefined' && window.showDirectoryPicker
    ? (options) =>
        window.showDirectoryPicker?.(options) ?? Promise.reject(new Error('no folder can be chosen'))
    : null

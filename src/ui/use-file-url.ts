import { useEffect, useState } from 'react'
import { loadFile } from '@/data/project-repository'

/** An address in this tab for a stored file, to show it by; null until it is there, and where it cannot be read. */
export function useFileUrl(projectId: string, fileId: string): string | null {
  const [url, setUrl] = useState<string | null>(null)
  useEffect(() => {
    let made: string | null = null
    let gone = false
    void loadFile(projectId, fileId)
      .then((bytes) => {
        if (gone) return
        made = URL.createObjectURL(new Blob([bytes.slice()]))
        setUrl(made)
      })
      .catch(() => undefined)
    return () => {
      gone = true
      if (made) URL.revokeObjectURL(made)
    }
  }, [projectId, fileId])
  return url
}

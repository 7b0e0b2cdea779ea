import { answered } from '@/api/client'
import { useLongWork, type LongWork } from '@/parts/job'

/** So long the browser has to begin keeping a file. */
const KEPT_MS = 60_000

export interface Files {
  work: LongWork
  /** The number of the project that a file became; null where it was stopped. Refusals are thrown. */
  fileIn: (file: File) => Promise<number | null>
  fileOut: (project: number, what: 'file' | 'package') => Promise<void>
}

/** Projects as files: in, and out with or without their sounds. */
export function useFiles(): Files {
  const work = useLongWork()

  async function fileIn(file: File): Promise<number | null> {
    const type = file.name.endsWith('.zip') ? 'application/zip' : 'application/json'
    const made = await work.watched(async (job) => {
      const request = { method: 'POST', headers: { 'Content-Type': type }, body: file }
      const response = await fetch(`/api/projects/file?job=${job}`, request)
      const body: unknown = await response.json()
      return answered<{ id: number }>({ data: body as { id: number }, error: body, response })
    })
    return made?.id ?? null
  }
  /** It is made on the server, then kept by the browser. */
  async function fileOut(project: number, what: 'file' | 'package'): Promise<void> {
    const made = await work.watched(async (job) => {
      const response = await fetch(`/api/projects/${project}/${what}?job=${job}`)
      if (!response.ok) answered({ error: await response.json(), response })
      return response.blob()
    })
    if (made) keep(made, `project-${project}.vocanta.${what === 'file' ? 'json' : 'zip'}`)
  }
  return { work, fileIn, fileOut }
}

function keep(data: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(data)
  link.download = name
  link.click()
  window.setTimeout(() => URL.revokeObjectURL(link.href), KEPT_MS)
}

import { useDocumentVisibility } from '@vueuse/core'
import { onScopeDispose, watch } from 'vue'
import type { Schemas } from '@/api/client'

/** How long to wait before listening again after the line broke. */
const AGAIN_MS = 2000

export interface News {
  listen: (project: number) => void
}

/**
 * What every tab does in a project, as it is done. A page that nobody looks at does not listen; it catches up when it
 * is seen again.
 */
export function useNews(known: () => number, heard: (news: Schemas['EventShape']) => void): News {
  const seen = useDocumentVisibility()
  let source: EventSource | null = null
  let again: ReturnType<typeof setTimeout> | undefined
  let project = 0

  function open(): void {
    clearTimeout(again)
    source?.close()
    source = null
    if (!project || seen.value === 'hidden') return
    source = new EventSource(`/api/projects/${project}/events?after=${known()}`)
    source.onerror = () => {
      again = setTimeout(open, AGAIN_MS)
    }
    source.onmessage = (event: MessageEvent<string>) => heard(JSON.parse(event.data) as Schemas['EventShape'])
  }
  function listen(id: number): void {
    project = id
    open()
  }
  watch(seen, open)
  onScopeDispose(() => {
    clearTimeout(again)
    source?.close()
  })
  return { listen }
}

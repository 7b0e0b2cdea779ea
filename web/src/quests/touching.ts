import { onScopeDispose, shallowRef, watch, type ShallowRef } from 'vue'
import { useRouter } from 'vue-router'
import { RefusedError } from '@/api/client'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'

/** Leads to the place that an entry of *brings it here* and the like names. */
export function useTouchLead(chosen: (key: string) => void): (place: string) => void {
  const router = useRouter()
  const live = useLive()
  return (place) => {
    const [kind = '', a = '', b = ''] = place.split('/')
    const query = { as_if: live.asked || undefined }
    if (kind === 'line') void router.push({ name: 'dialogue', params: { selected: b }, query })
    else if (kind === 'stage') chosen(`${a}.${b}`)
    else if (kind === 'quest') chosen(a)
    else if (['object', 'kind', 'area', 'level'].includes(kind))
      void router.push({ name: 'plan', params: { selected: a }, query })
  }
}

/**
 * What is read of a quest or a stage by its name in cues: once edits under way have settled what it is called, and
 * again after every edit.
 */
export function useReadByName<T>(name: () => string, ask: () => Promise<T>): Readonly<ShallowRef<T | null>> {
  const book = useBook()
  const found = shallowRef<T | null>(null)
  let latest = 0
  async function read(): Promise<void> {
    const mine = ++latest
    await book.settled()
    if (mine !== latest) return
    try {
      const answer = await ask()
      if (mine === latest) found.value = answer
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  }
  watch([() => book.editNumber, name], read, { immediate: true })
  onScopeDispose(() => latest++)
  return found
}

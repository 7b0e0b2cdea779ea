import { ref, watch, type Ref } from 'vue'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import { useBook } from './book'

export interface PageReading {
  reading: Ref<Schemas['PageReading'] | null>
}

/** What the server reads off one record; read again after every edit. */
export function usePageReading(record: () => number | undefined): PageReading {
  const book = useBook()
  const reading = ref<Schemas['PageReading'] | null>(null)
  let latest = 0
  watch(
    [record, () => book.editNumber],
    async ([id]) => {
      const mine = ++latest
      if (!id || !book.project) {
        reading.value = null
        return
      }
      try {
        const found = answered<Schemas['PageReading']>(await api.GET('/api/projects/{project}/records/{record}/page', { params: { path: { project: book.project, record: id } } }))
        if (mine === latest) reading.value = found
      } catch (error) {
        if (!(error instanceof RefusedError)) throw error
        if (mine === latest) reading.value = null
      }
    },
    { immediate: true },
  )
  return { reading }
}

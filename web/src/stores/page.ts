import { ref, watch, type Ref } from 'vue'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useTurns } from './turns'

/** What is read off a record by its texts, and what the program tells of it, which comes a moment later. */
export type PageReading = Schemas['PageReading'] & Pick<Schemas['RunReading'], 'touches' | 'problems'>
export interface ReadPage {
  reading: Ref<PageReading | null>
}

/**
 * What the server reads off one record; read again after every edit. The words come first, the program's part follows.
 */
export function usePageReading(record: () => number | undefined): ReadPage {
  const book = useBook()
  const { ahead, afterwards } = useTurns()
  const reading = ref<PageReading | null>(null)
  let latest = 0
  let shown = 0
  async function read(id: number, mine: number): Promise<void> {
    const path = { project: book.project, record: id }
    const texts = answered<Schemas['PageReading']>(
      await ahead(api.GET('/api/projects/{project}/records/{record}/page', { params: { path } })),
    )
    if (mine !== latest) return
    const { touches, problems } = shown === id && reading.value ? reading.value : { touches: [], problems: [] }
    reading.value = { ...texts, touches, problems }
    shown = id
    await afterwards()
    if (!(await book.stays(id)) || mine !== latest) return
    const run = answered<Schemas['RunReading']>(
      await api.GET('/api/projects/{project}/records/{record}/running', { params: { path } }),
    )
    if (mine === latest) reading.value = { ...texts, touches: run.touches, problems: run.problems }
  }
  watch(
    [record, () => book.editNumber],
    async ([id]) => {
      const mine = ++latest
      // What was read of another record says nothing of this one.
      if (id !== shown) reading.value = null
      if (!id || !book.project) {
        reading.value = null
        return
      }
      try {
        await read(id, mine)
      } catch (error) {
        if (!(error instanceof RefusedError)) throw error
        if (mine === latest) reading.value = null
      }
    },
    { immediate: true },
  )
  return { reading }
}

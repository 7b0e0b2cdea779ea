import { ref, watch, type Ref } from 'vue'
import { answered, RefusedError } from '@/api/client'
import { useBook } from './book'
import { useTurns } from './turns'

/**
 * What the server reads off the open project, read again after every edit; a late answer is let go. What is refused
 * stays as it was read last.
 */
export function useReadings<T>(ask: (path: { project: number }) => Promise<unknown>): Ref<T[]> {
  const book = useBook()
  const { afterwards } = useTurns()
  const readings = ref([]) as Ref<T[]>
  let latest = 0
  async function read(): Promise<void> {
    const mine = ++latest
    await afterwards()
    if (!book.project || mine !== latest) return
    try {
      const found = answered<T[]>((await ask({ project: book.project })) as Parameters<typeof answered<T[]>>[0])
      if (mine === latest) readings.value = found
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  }
  watch([() => book.project, () => book.editNumber], read, { immediate: true })
  return readings
}

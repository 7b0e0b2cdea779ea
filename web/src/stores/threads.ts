import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useTurns } from './turns'

/** How each quest can go on and what it is rewarded with, read again after every edit. */
export const useThreads = defineStore('threads', () => {
  const book = useBook()
  const { afterwards } = useTurns()
  const readings = ref<Schemas['ThreadReading'][]>([])
  const byQuest = computed(() => new Map(readings.value.map((r) => [r.quest, r])))
  let latest = 0
  async function read(): Promise<void> {
    const mine = ++latest
    await afterwards()
    if (!book.project || mine !== latest) return
    try {
      const params = { path: { project: book.project } }
      const found = answered<Schemas['ThreadReading'][]>(await api.GET('/api/projects/{project}/threads', { params }))
      if (mine === latest) readings.value = found
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  }
  watch([() => book.project, () => book.editNumber], read, { immediate: true })
  return { byQuest }
})

import { defineStore } from 'pinia'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useTurns } from './turns'

/** The project as it would be at the chosen point; without a point as it is at the start. */
export const useLive = defineStore('live', () => {
  const book = useBook()
  const route = useRoute()
  const router = useRouter()
  const reading = ref<Schemas['LiveReading'] | null>(null)
  const asked = computed(() => String(route.query.as_if ?? ''))
  const changes = computed(() => String(route.query.with ?? ''))
  const on = computed(() => asked.value !== '')

  /** What is asked about, and what the reading is about; they differ while it is being worked out. */
  const subject = computed(() => [book.project, asked.value, changes.value].join(' '))
  const readOf = ref('')
  const waiting = computed(() => readOf.value !== subject.value)

  const { afterwards } = useTurns()
  let latest = 0
  async function read(): Promise<void> {
    const mine = ++latest
    const about = subject.value
    await afterwards()
    if (!book.project || mine !== latest) return
    const [quest = '', stage = ''] = asked.value.split('.')
    const result = await api.GET('/api/projects/{project}/live', {
      params: { path: { project: book.project }, query: { quest, stage, changes: changes.value } },
    })
    if (mine !== latest) return
    try {
      reading.value = answered<Schemas['LiveReading']>(result)
      readOf.value = about
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
      end()
    }
  }
  function choose(point: string): void {
    void router.replace({ ...route, query: { ...route.query, as_if: point || undefined, with: undefined } })
  }
  function end(): void {
    choose('')
  }
  function change(column: string, value: number): void {
    const kept = changes.value.split(',').filter((c) => c && !c.startsWith(`${column}=`))
    void router.replace({ ...route, query: { ...route.query, with: [...kept, `${column}=${value}`].join(',') } })
  }
  watch([() => book.project, () => book.editNumber, asked, changes], read, { immediate: true })
  return { reading, waiting, asked, changes, on, choose, end, change }
})

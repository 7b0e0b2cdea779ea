import { computed, shallowRef, watch, type ComputedRef, type Ref } from 'vue'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import { useLongWork, type LongWork } from '@/parts/job'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import type { Gate } from '@/stores/proof'
import { useTurns } from '@/stores/turns'

interface MapAsIf {
  /** The gates from the *as if* point on; null as long as they are not known as the project is now. */
  gates: Ref<Gate[] | null>
  work: LongWork
  /** Why there are none: it was stopped, or cannot be. Worked out only when somebody asks again. */
  because: Ref<string>
  again: () => Promise<void>
  /** The point in words; nothing where none is chosen. */
  point: ComputedRef<string>
}

/** The map of the gates from the *as if* point: worked out while it is looked at, and anew after edits. */
export function useMapAsIf(isShown: () => boolean): MapAsIf {
  const book = useBook()
  const live = useLive()
  const { afterwards } = useTurns()
  const work = useLongWork()
  const gates = shallowRef<Gate[] | null>(null)
  const because = shallowRef('')
  const point = computed(() => (live.on ? (live.reading?.point ?? '') : ''))
  let latest = 0
  let before: Promise<unknown> = Promise.resolve()

  /** What the server works out; null where that was stopped. */
  async function asked(): Promise<Gate[] | null> {
    const [quest = '', stage = ''] = live.asked.split('.')
    const found = await work.watched(async (job) => {
      const query = { quest, stage, changes: live.changes, job }
      const params = { path: { project: book.project }, query }
      return answered<Schemas['MapReading']>(await api.POST('/api/projects/{project}/proof/map', { params }))
    })
    return found?.gates ?? null
  }
  async function again(): Promise<void> {
    const mine = ++latest
    gates.value = null
    because.value = ''
    await work.stop()
    await before
    await afterwards()
    if (mine !== latest || !isShown() || !live.on || !book.project) return
    const now = asked()
    before = now.catch(() => null)
    try {
      const found = await now
      if (mine !== latest) return
      gates.value = found
      because.value = found ? '' : 'It was stopped.'
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
      const [problem] = error.refusal.problems
      if (mine === latest) because.value = problem ? `${problem.message} ${problem.fix}` : error.refusal.title
    }
  }
  watch([isShown, () => live.asked, () => live.changes, () => book.project, () => book.editNumber], again, {
    immediate: true,
  })
  return { gates, work, because, again, point }
}

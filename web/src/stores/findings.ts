import { defineStore } from 'pinia'
import { ref, shallowRef, watch } from 'vue'
import { answered, api, RefusedError, type ChangeAsked, type EditDone, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useTurns } from './turns'

export type Finding = Schemas['FindingShape']
export type Mark = Schemas['MarkShape']
export type Mend = Schemas['MendShape']

/** What the mark of a record says. */
export const saidOf = (mark: Mark | undefined): string => (mark ? `${mark.whose} ${mark.says}` : '')

/**
 * What the checks found, asked for after every edit: first what is found at once, then what takes longer. What is shown
 * says which edit it speaks of.
 */
export const useFindings = defineStore('findings', () => {
  const book = useBook()
  const { afterwards } = useTurns()
  const marks = shallowRef(new Map<number, Mark>())
  const total = ref(0)
  const editNumber = ref(0)
  const whole = ref(false)
  /** Counts on whenever something new was heard. */
  const heard = ref(0)
  /** The findings of the record whose page is open. */
  const here = shallowRef<Finding[]>([])
  let latest = 0

  async function read(): Promise<void> {
    const mine = ++latest
    await afterwards()
    for (const all of [false, true]) {
      if (!book.project || mine !== latest) return
      const query = { edit: book.editNumber, ...(all ? { whole: true } : {}) }
      const params = { path: { project: book.project }, query }
      const found = answered<Schemas['MarksReading']>(
        await api.GET('/api/projects/{project}/findings/marks', { params }),
      )
      if (mine !== latest) return
      take(found)
      if (found.whole && found.edit_number >= query.edit) return
    }
  }
  function take(found: Schemas['MarksReading']): void {
    marks.value = new Map(found.marks.map((m) => [m.record, m]))
    total.value = found.total
    editNumber.value = found.edit_number
    whole.value = found.whole
    heard.value++
  }
  async function patiently(): Promise<void> {
    try {
      await read()
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  }
  watch([() => book.project, () => book.editNumber], patiently, { immediate: true })

  /** All that is to be said of one finding; null where it is there no longer. */
  async function detail(key: string): Promise<Schemas['FindingDetail'] | null> {
    const params = { path: { project: book.project, key } }
    const answer = await api.GET('/api/projects/{project}/findings/one/{key}', { params })
    return answered<Schemas['FindingAnswer']>(answer).detail
  }
  /** Do what a mend writes. */
  function mend(one: Pick<Mend, 'changes' | 'says'>, name = one.says): Promise<EditDone> {
    return book.edit(one.changes as unknown as Partial<ChangeAsked>[], name)
  }
  /** Do the first mend of a finding. */
  async function mendFirst(key: string): Promise<void> {
    const first = (await detail(key))?.mends[0]
    if (first) await mend(first)
  }
  /** Do the same mend for every finding of a check that has it. */
  async function mendAll(check: string, label: string): Promise<void> {
    const params = { path: { project: book.project, check }, query: { label } }
    const answer = await api.GET('/api/projects/{project}/findings/mends/{check}', { params })
    const all = answered<Schemas['TogetherShape']>(answer)
    await mend({ changes: all.changes, says: `${label}, for all ${all.count}` })
  }
  return { marks, total, editNumber, whole, heard, here, again: patiently, detail, mend, mendFirst, mendAll }
})

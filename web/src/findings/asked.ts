import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import type { Amiss } from '@/parts/amiss'
import { useBook } from '@/stores/book'
import { useFindings, type Finding } from '@/stores/findings'

export interface Filters {
  check: string
  level: string
  quest: string
  words: string
  aside: boolean
  page: number
}
export interface ListRead {
  list: Ref<Schemas['FindingsReading'] | null>
}

/** A page of the findings that are asked for, read again whenever something new was heard. */
export function useFindingList(filters: () => Filters): ListRead {
  const book = useBook()
  const findings = useFindings()
  const list = ref<Schemas['FindingsReading'] | null>(null)
  let latest = 0
  watch(
    [filters, () => findings.heard],
    async ([asked]) => {
      const mine = ++latest
      const query = Object.fromEntries(Object.entries(asked).filter(([, value]) => value)) as Partial<Filters>
      const params = { path: { project: book.project }, query: { ...query, edit: findings.editNumber } }
      try {
        const answer = await api.GET('/api/projects/{project}/findings', { params })
        const found = answered<Schemas['FindingsReading']>(answer)
        if (mine === latest) list.value = found
      } catch (error) {
        if (!(error instanceof RefusedError)) throw error
      }
    },
    { immediate: true, deep: true },
  )
  return { list }
}

/** The findings of the record whose page is open. */
export function useFindingsOf(record: () => number | undefined): void {
  const book = useBook()
  const findings = useFindings()
  let shown = 0
  watch(
    [record, () => findings.heard],
    async ([id]) => {
      if (id !== shown) findings.here = []
      shown = id ?? 0
      if (!id || !book.project || !findings.heard || !(await book.stays(id)) || shown !== id) return
      try {
        const params = { path: { project: book.project, record: id }, query: { edit: findings.editNumber } }
        const answer = await api.GET('/api/projects/{project}/records/{record}/findings', { params })
        const found = answered<Finding[]>(answer)
        if (shown === id) findings.here = found
      } catch (error) {
        if (!(error instanceof RefusedError)) throw error
        findings.here = []
      }
    },
    { immediate: true },
  )
}

/** What findings say of the values in the design of an object or a kind, whose page is open. */
export function useAmissOf(record: () => number): ComputedRef<Amiss> {
  const findings = useFindings()
  return computed(() => {
    const here = findings.here.filter((f) => f.record === record() && f.field.startsWith('design.'))
    return (path) => {
      const found = here.find((f) => f.field === `design.${path}`)
      return found ? `${found.whose} ${found.says}` : ''
    }
  })
}

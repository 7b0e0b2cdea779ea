import { useRoute, useRouter } from 'vue-router'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import { useBook } from '@/stores/book'
import { useFindings, type Finding } from '@/stores/findings'
import { whereOf } from './where'

const PAGE = 100

export interface Stepping {
  step: (by: 1 | -1) => Promise<void>
}

/** From one finding to the next, from anywhere: each is shown where it stands, and in Findings in the list. */
export function useStepping(): Stepping {
  const book = useBook()
  const findings = useFindings()
  const route = useRoute()
  const router = useRouter()
  let at = -1
  let last = ''

  async function pageWith(number: number): Promise<Finding[]> {
    const query = { edit: findings.editNumber, page: Math.floor(number / PAGE) }
    const params = { path: { project: book.project }, query }
    const answer = await api.GET('/api/projects/{project}/findings', { params })
    return answered<Schemas['FindingsReading']>(answer).findings
  }
  /** Where one begins: what was put right since has left its place to the one behind it. */
  async function next(by: 1 | -1): Promise<number> {
    if (at < 0) return by > 0 ? 0 : findings.total - 1
    const still = (await pageWith(at)).some((f) => f.key === last)
    const on = still || by < 0 ? at + by : at
    return (on + findings.total) % findings.total
  }
  async function step(by: 1 | -1): Promise<void> {
    if (!findings.total) return
    try {
      at = await next(by)
      const one = (await pageWith(at))[at % PAGE]
      if (!one) return
      last = one.key
      const listed = { name: 'findings', params: { ...route.params, selected: one.key } }
      await (route.name === 'findings' ? router.replace(listed) : router.push(whereOf(book, one)))
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  }
  return { step }
}

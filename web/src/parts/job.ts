import { ref, type Ref } from 'vue'
import { api, answered, RefusedError, type Schemas } from '@/api/client'

const ASKED_AGAIN_MS = 400
const SHOWN_AFTER_MS = 600

/** One long work at a time that can be watched and stopped. */
export interface LongWork {
  /** How far it has come, once it has taken a moment; null while nothing goes on. */
  at: Ref<Schemas['JobLine'] | null>
  /** Does a work under a name of its own; one that was stopped gives null. */
  watched: <T>(work: (job: string) => Promise<T>) => Promise<T | null>
  stop: () => Promise<void>
}

/** Long work on the server. */
export function useLongWork(): LongWork {
  const at = ref<Schemas['JobLine'] | null>(null)
  let name = ''

  async function look(): Promise<void> {
    const asked = name
    const { data } = await api.GET('/api/jobs/{name}', { params: { path: { name: asked } } })
    if (data && name === asked) at.value = data
  }
  async function watched<T>(work: (job: string) => Promise<T>): Promise<T | null> {
    name = crypto.randomUUID()
    let clock = 0
    const soon = window.setTimeout(
      () => (clock = window.setInterval(() => void look(), ASKED_AGAIN_MS)),
      SHOWN_AFTER_MS,
    )
    try {
      return await work(name)
    } catch (error) {
      if (error instanceof RefusedError && error.refusal.problems[0]?.code === 'stopped') return null
      throw error
    } finally {
      window.clearTimeout(soon)
      window.clearInterval(clock)
      name = ''
      at.value = null
    }
  }
  async function stop(): Promise<void> {
    if (!name) return
    const { error, response } = await api.DELETE('/api/jobs/{name}', { params: { path: { name } } })
    if (response.status !== 404) answered({ error, response })
  }
  return { at, watched, stop }
}

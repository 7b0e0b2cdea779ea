import { useStorage } from '@vueuse/core'
import type { RouteLocationNormalized } from 'vue-router'
import { PLACES } from '@/router'

interface Last {
  path: string
  place: string
}

/** Where each project was left in this browser, and which was open last. */
const left = useStorage<Record<string, Last>>('projects-left', {})
const last = useStorage('project-open-last', '')

export function noteOpen(to: RouteLocationNormalized): void {
  const id = String(to.params.project ?? '')
  if (!id) return
  const place = PLACES.find((p) => p.key === to.name)?.name ?? ''
  left.value = { ...left.value, [id]: { path: to.fullPath, place } }
  last.value = id
}
export function leftAt(id: number): Last | undefined {
  return left.value[String(id)]
}
export function isLast(id: number): boolean {
  return last.value === String(id)
}

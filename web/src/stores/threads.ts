import { defineStore } from 'pinia'
import { computed } from 'vue'
import { api, type Schemas } from '@/api/client'
import { useReadings } from './readings'

/** How each quest can go on and what it is rewarded with, read again after every edit. */
export const useThreads = defineStore('threads', () => {
  const readings = useReadings<Schemas['ThreadReading']>((path) =>
    api.GET('/api/projects/{project}/threads', { params: { path } }),
  )
  const byQuest = computed(() => new Map(readings.value.map((r) => [r.quest, r])))
  return { byQuest }
})

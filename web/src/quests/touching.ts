import { useRouter } from 'vue-router'
import { useLive } from '@/stores/live'

/** Leads to the place that an entry of *brings it here* and the like names. */
export function useTouchLead(chosen: (key: string) => void): (place: string) => void {
  const router = useRouter()
  const live = useLive()
  return (place) => {
    const [kind = '', a = '', b = ''] = place.split('/')
    const query = { as_if: live.asked || undefined }
    if (kind === 'line') void router.push({ name: 'dialogue', params: { selected: b }, query })
    else if (kind === 'stage') chosen(`${a}.${b}`)
    else if (kind === 'quest') chosen(a)
    else if (['object', 'kind', 'area', 'level'].includes(kind))
      void router.push({ name: 'plan', params: { selected: a }, query })
  }
}

import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import type { Hud, PlaytestRun } from './connection'

type Offer = Hud['offers'][number]
export interface Offers {
  /** What lies open: offered, not put off, nobody speaking. */
  open: ComputedRef<Offer[]>
  /** The card on top. */
  card: ComputedRef<Offer | undefined>
  putOff: Ref<Set<string>>
  /** What can be decided on it, by number. */
  decisions: ComputedRef<string[]>
  turn: (by: number) => void
  later: () => void
}

/** What is offered and was not put off, and which of several lies on top. */
export function useOffers(run: PlaytestRun): Offers {
  const putOff = ref(new Set<string>())
  const turned = ref(0)
  const offers = computed(() => run.hud.value?.offers ?? [])
  const open = computed(() =>
    run.picture.value?.talk || run.then.value ? [] : offers.value.filter((o) => !putOff.value.has(o.key)),
  )
  const card = computed(() => open.value[Math.min(turned.value, open.value.length - 1)])
  const decisions = computed(() => {
    const one = card.value
    return one ? [`start:${one.key}`, ...(one.declined === 'no' ? [] : [`decline:${one.key}`])] : []
  })
  function turn(by: number): void {
    if (card.value) turned.value = (open.value.indexOf(card.value) + by + open.value.length) % open.value.length
  }
  function later(): void {
    if (card.value) putOff.value = new Set([...putOff.value, card.value.key])
  }
  /** What is offered anew lies open again. */
  watch(offers, (now) => {
    const keys = new Set(now.map((o) => o.key))
    putOff.value = new Set([...putOff.value].filter((key) => keys.has(key)))
  })
  return { open, card, putOff, decisions, turn, later }
}

import { ref, type Ref } from 'vue'
import { follow, swallowClick } from './dragging'

const LEAST_DRAG_PX = 6

interface Ordered {
  id: number
  order: number
}
/** The order that puts one of several before another, or at their end. */
export function orderBefore(all: readonly Ordered[], moved: number, before: number | null): number {
  const others = all.filter((one) => one.id !== moved)
  const found = others.findIndex((one) => one.id === before)
  const at = found < 0 ? others.length : found
  const [above, below] = [others[at - 1]?.order, others[at]?.order]
  if (above === undefined) return (below ?? 1) - 1
  return below === undefined ? above + 1 : (above + below) / 2
}
/** The same for one place to and fro; undefined at the end. */
export function orderShifted(all: readonly Ordered[], moved: number, by: 1 | -1): number | undefined {
  const at = all.findIndex((one) => one.id === moved)
  return all[at + by] && orderBefore(all, moved, all[by > 0 ? at + 2 : at - 1]?.id ?? null)
}

export interface Held {
  id: number
  /** What it would come to stand before; null for the end. */
  before: number | null
}
/** Dragging one of several to another place among them, along the screen's width or height. */
export function useOrdering(
  along: 'clientX' | 'clientY',
  places: (moved: number) => { id: number; middle: number }[],
  put: (id: number, before: number | null) => void,
): { held: Ref<Held | null>; take: (event: PointerEvent, id: number) => void } {
  const held = ref<Held | null>(null)
  function take(event: PointerEvent, id: number): void {
    if (event.button !== 0) return
    const from = event[along]
    follow({
      move: (e) => {
        if (!held.value && Math.abs(e[along] - from) < LEAST_DRAG_PX) return
        held.value = { id, before: places(id).find((place) => e[along] < place.middle)?.id ?? null }
      },
      end: () => {
        const to = held.value
        held.value = null
        if (!to) return
        swallowClick()
        const all = places(id)
        const next = all[all.findIndex((place) => place.id === id) + 1]?.id ?? null
        if (to.before !== id && to.before !== next) put(id, to.before)
      },
      cancel: () => (held.value = null),
    })
  }
  return { held, take }
}
/** The middle of each of some elements on the screen, with the number it carries. */
export function middles(elements: Iterable<Element>, along: 'clientX' | 'clientY'): { id: number; middle: number }[] {
  return [...elements].map((element) => {
    const box = element.getBoundingClientRect()
    const middle = along === 'clientX' ? box.left + box.width / 2 : box.top + box.height / 2
    return { id: Number((element as HTMLElement).dataset.id), middle }
  })
}

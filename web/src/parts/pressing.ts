import { useEventListener } from '@vueuse/core'

let held = false
useEventListener(window, 'pointerdown', () => (held = true), { capture: true })
useEventListener(window, ['pointerup', 'pointercancel'], () => (held = false), { capture: true })

/**
 * Does what moves the page about: at once, or, while a pointer is held down, after its click, so that the click still
 * meets what was aimed at.
 */
export function afterThePress(work: () => void): void {
  if (!held) return work()
  const once = { once: true, capture: true }
  window.addEventListener('pointerup', () => window.setTimeout(work), once)
}

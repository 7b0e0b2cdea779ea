import type { Talk } from './connection'

interface Wiring {
  bindings: () => { key: string; keys: string[] }[]
  talk: () => Talk | null
  send: (message: Record<string, unknown>) => void
  tools: Record<string, () => void>
}
export interface Controls {
  down: (event: KeyboardEvent) => void
  up: (event: KeyboardEvent) => void
  release: () => void
}

const WALK: Record<string, [number, number]> = { w: [0, 1], arrowup: [0, 1], s: [0, -1], arrowdown: [0, -1], a: [-1, 0], arrowleft: [-1, 0], d: [1, 0], arrowright: [1, 0] }

/** Keys into inputs: walking, the project's controls, answers by number, and the tools of the playtest. */
export function useControls(wiring: Wiring): Controls {
  const held = new Set<string>()
  let walking = ''

  function walk(): void {
    let [x, y] = [0, 0]
    for (const key of held) {
      const by = WALK[key]
      if (by) {
        x += by[0]
        y += by[1]
      }
    }
    const next = `${x},${y}`
    if (next !== walking) wiring.send({ input: { move: [x, y] } })
    walking = next
  }
  function controlOf(key: string): string | undefined {
    return wiring.bindings().find((b) => b.keys.includes(key))?.key
  }
  function down(event: KeyboardEvent): void {
    if (event.ctrlKey || event.metaKey || event.altKey) return
    const tool = wiring.tools[event.key]
    const key = event.key.toLowerCase()
    if (tool) tool()
    else if (event.repeat) event.preventDefault()
    else if (!talking(key)) press(key)
    if (tool || WALK[key] || controlOf(key) || key === ' ') event.preventDefault()
  }
  function talking(key: string): boolean {
    const talk = wiring.talk()
    if (!talk) return false
    const reply = /^[1-9]$/.test(key) ? talk.replies[Number(key) - 1] : undefined
    if (reply?.usable) wiring.send({ input: { choose: reply.key } })
    if (key === ' ') wiring.send({ input: { skip: true } })
    return reply !== undefined || key === ' '
  }
  function press(key: string): void {
    held.add(key)
    if (WALK[key]) walk()
    const control = controlOf(key)
    if (control) wiring.send({ input: { down: [control], move: vector() } })
  }
  function vector(): [number, number] {
    const [x = 0, y = 0] = walking.split(',').map(Number)
    return [x || 0, y || 0]
  }
  function up(event: KeyboardEvent): void {
    const key = event.key.toLowerCase()
    held.delete(key)
    if (WALK[key]) walk()
    const control = controlOf(key)
    if (control) wiring.send({ input: { up: [control], move: vector() } })
  }
  function release(): void {
    const controls = [...held].map(controlOf).filter(Boolean)
    held.clear()
    walking = ''
    wiring.send({ input: { up: controls, move: [0, 0] } })
  }
  return { down, up, release }
}

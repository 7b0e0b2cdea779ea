import type { LiveButton, Talk } from './connection'

interface Binding {
  key: string
  keys: string[]
  mouse: ('left' | 'middle' | 'right')[]
  pad: number[]
}
interface Wiring {
  bindings: () => Binding[]
  talk: () => Talk | null
  /** What can be decided on the card that lies open, by number; nothing without one. */
  decisions: () => string[]
  /** The buttons of the panel on the screen; none without one. */
  buttons: () => LiveButton[]
  /** Where a control that aims is aimed, in degrees; undefined for the way the player faces. */
  aim: (control: string) => number | undefined
  /** The entry that a control works where a panel is on the screen for it. */
  mark: (control: string) => string | undefined
  send: (message: Record<string, unknown>) => void
  /** The keys of the playtest itself; a key that the project binds is the player's. */
  tools: () => Record<string, () => void>
}
export interface Controls {
  down: (event: KeyboardEvent) => void
  up: (event: KeyboardEvent) => void
  release: () => void
  mouse: (button: number, pressed: boolean) => boolean
  pad: (pads: readonly (Gamepad | null)[]) => void
  /** Whether a key is held down. */
  holds: () => boolean
}

const MOUSE = ['left', 'middle', 'right'] as const
const STILL_M = 0.25

const WALK: Record<string, [number, number]> = {
  w: [0, 1],
  arrowup: [0, 1],
  s: [0, -1],
  arrowdown: [0, -1],
  a: [-1, 0],
  arrowleft: [-1, 0],
  d: [1, 0],
  arrowright: [1, 0],
}

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
    const key = event.key.toLowerCase()
    const tool = controlOf(key) ? undefined : wiring.tools()[event.key]
    if (tool) tool()
    else if (event.repeat) event.preventDefault()
    else if (!talking(key)) press(key)
    if (tool || WALK[key] || controlOf(key) || key === ' ') event.preventDefault()
  }
  function talking(key: string): boolean {
    const talk = wiring.talk()
    const decision = /^[1-9]$/.test(key) ? wiring.decisions()[Number(key) - 1] : undefined
    if (decision) {
      wiring.send({ input: { decide: decision } })
      return true
    }
    const button = /^[1-9]$/.test(key) && !talk ? wiring.buttons()[Number(key) - 1] : undefined
    if (button) wiring.send({ input: { choose: button.key } })
    if (!talk) return button !== undefined
    const reply = /^[1-9]$/.test(key) ? talk.replies[Number(key) - 1] : undefined
    if (reply?.usable) wiring.send({ input: { choose: reply.key } })
    if (key === ' ') wiring.send({ input: { skip: true } })
    return reply !== undefined || key === ' '
  }
  function press(key: string): void {
    held.add(key)
    if (WALK[key]) walk()
    const control = controlOf(key)
    if (control) begin(control)
  }
  function begin(control: string): void {
    const look = wiring.aim(control)
    const mark = wiring.mark(control)
    const aimed = look === undefined ? {} : { look }
    wiring.send({ input: { down: [control], move: vector(), ...aimed, ...(mark === undefined ? {} : { mark }) } })
  }
  function end(control: string): void {
    wiring.send({ input: { up: [control], move: vector() } })
  }
  /** A mouse button; whether a control is bound to it. */
  function mouse(button: number, pressed: boolean): boolean {
    const name = MOUSE[button]
    const control = wiring.bindings().find((b) => name && b.mouse.includes(name))?.key
    if (control && pressed) begin(control)
    else if (control) end(control)
    return control !== undefined
  }
  let padded = new Set<number>()
  let tilted = '0,0'
  /** What the first pad does now, against what it did last. */
  function pad(pads: readonly (Gamepad | null)[]): void {
    const one = pads.find(Boolean)
    if (!one) return
    const now = new Set(one.buttons.flatMap((b, i) => (b.pressed ? [i] : [])))
    for (const binding of wiring.bindings()) {
      const [was, is] = [padded, now].map((set) => binding.pad.some((n) => set.has(n)))
      if (is && !was) begin(binding.key)
      if (was && !is) end(binding.key)
    }
    padded = now
    const [x, y] = [one.axes[0] ?? 0, -(one.axes[1] ?? 0)].map((v) =>
      Math.abs(v) < STILL_M ? 0 : Math.round(v * 10) / 10,
    )
    if (`${x},${y}` !== tilted) wiring.send({ input: { move: [x, y] } })
    tilted = `${x},${y}`
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
    if (control) end(control)
  }
  function release(): void {
    const controls = [...held].map(controlOf).filter(Boolean)
    held.clear()
    walking = ''
    wiring.send({ input: { up: controls, move: [0, 0] } })
  }
  return { down, up, release, mouse, pad, holds: () => held.size > 0 }
}

import type { Label } from '@/plan/labels'

const PLAYER_PX = 16
const LINE_PX = 15
const GAP_PX = 25

/** The box of a text by its place, from the object's middle, y downwards. */
function boxOf({ dx, dy, anchor }: Label, width: number): { left: number; right: number; top: number; bottom: number } {
  const left = anchor === 'middle' ? dx - width / 2 : anchor === 'end' ? dx - width : dx
  return { left, right: left + width, top: dy - LINE_PX, bottom: dy + 4 }
}

/** A name where the player does not stand on it: its own place, else below, above, or at a side of what it names. */
export function offThePlayer(own: Label, width: number, player: { x: number; y: number }): Label {
  const places: Label[] = [
    own,
    { dx: 0, dy: GAP_PX + 6, anchor: 'middle' },
    { dx: 0, dy: -GAP_PX, anchor: 'middle' },
    { dx: GAP_PX, dy: 4, anchor: 'start' },
    { dx: -GAP_PX, dy: 4, anchor: 'end' },
  ]
  const free = places.find((place) => {
    const box = boxOf(place, width)
    const x = player.x - Math.min(Math.max(player.x, box.left), box.right)
    const y = player.y - Math.min(Math.max(player.y, box.top), box.bottom)
    return Math.hypot(x, y) > PLAYER_PX
  })
  return free ?? own
}

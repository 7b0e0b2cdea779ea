import type { Box, Point } from './geometry'

/** Where a text stands beside its point, pixels, y down. */
export interface Label {
  dx: number
  dy: number
  anchor: 'start' | 'middle' | 'end'
  /** It would lie on something that matters more, and is shown only when it is asked for. */
  back?: true
}
/**
 * A text that seeks a place: its point, how long it is, and the places that it may take, the best first. All in
 * pixels, y down.
 */
export interface Seeking {
  at: Point
  width: number
  spots: Label[]
  /** The badge it belongs to, by its number among the discs; that one may be near. */
  own?: number
  /** It stays where it came to stand first. */
  firm?: boolean
  /** How much it matters: of two texts that lie on one another the one that matters less stands back. */
  matters: number
  /** The outline that it must stay inside of. */
  inside?: Point[]
}
export interface Ring {
  at: Point
  r: number
}
/** What a text should not stand on. */
export interface Around {
  discs: Point[]
  boxes: Box[]
  walls: [Point, Point][]
  rings: Ring[]
  view: Box
}

const DISC = 18
const [ASCENT, DESCENT] = [11, 3]
/** What it costs to stand on each; a place further down its list costs a little too. */
const COST = { label: 13, disc: 14, ring: 6, wall: 7, parted: 5, outside: 30, unseen: 16, later: 0.35, latest: 2 }
const CELL = 64
/** More squares than a column of them ever has. */
const ROW = 1_000_003

interface Standing {
  box: Box
  owner: number
  cost: number
  /** The question it was last counted for. */
  asked: number
}

/** Boxes by the squares of the screen that they touch, so that a text meets only its neighbours. */
class Squares {
  private readonly lists = new Map<number, Standing[]>()
  private question = 0

  add(box: Box, cost: number, owner = -1): Standing {
    const one = { box, owner, cost, asked: 0 }
    this.each(box, (list) => list.push(one))
    return one
  }
  remove(one: Standing): void {
    this.each(one.box, (list) => list.splice(list.indexOf(one), 1))
  }
  /**
   * The cost of everything that a box meets, touching it costing less than lying on it; what lies in two squares
   * counts once.
   */
  cost(box: Box, own: number): number {
    const question = ++this.question
    let sum = 0
    this.each(box, (list) => {
      for (const one of list) {
        if (one.asked === question || (own >= 0 && one.owner === own) || !meets(one.box, box)) continue
        one.asked = question
        sum += one.cost * shareOf(one.box, box)
      }
    })
    return sum
  }
  /** How much of a box, or of what it meets where that is smaller, is covered by one other. */
  covered(box: Box): number {
    let most = 0
    this.each(box, (list) => {
      for (const one of list) if (meets(one.box, box)) most = Math.max(most, 2 * shareOf(one.box, box) - 1)
    })
    return most
  }
  private each(box: Box, visit: (list: Standing[]) => void): void {
    for (let x = Math.floor(box.left / CELL); x <= Math.floor(box.right / CELL); x++) {
      for (let y = Math.floor(box.top / CELL); y <= Math.floor(box.bottom / CELL); y++) {
        const key = x * ROW + y
        let list = this.lists.get(key)
        if (!list) this.lists.set(key, (list = []))
        visit(list)
      }
    }
  }
}

/** In a plan of more texts than this, each is placed once, without a look at walls, and not looked at again. */
const MOST_LOOKED_AT_AGAIN = 160
const ROUNDS = 2

/**
 * A place for each text: the one that costs least as the others stand, in their order, and then again in the light of
 * those behind.
 */
export function placedLabels(seeking: Seeking[], about: Around): Label[] {
  const few = seeking.length <= MOST_LOOKED_AT_AGAIN
  const around = few ? about : { ...about, walls: [] }
  const squares = new Squares()
  around.discs.forEach((d, i) =>
    squares.add({ left: d.x - DISC, right: d.x + DISC, top: d.y - DISC, bottom: d.y + DISC }, COST.disc, i),
  )
  for (const box of around.boxes) squares.add(box, COST.label)
  const placed = seeking.map((text) => {
    const { spot, box } = best(text, squares, around)
    return { spot, standing: squares.add(box, COST.label) }
  })
  for (let round = 0; round < ROUNDS && few; round++) {
    seeking.forEach((text, i) => {
      const one = placed[i]
      if (!one || text.firm) return
      squares.remove(one.standing)
      const { spot, box } = best(text, squares, around)
      placed[i] = { spot, standing: squares.add(box, COST.label) }
    })
  }
  return standingBack(seeking, placed)
}

/** So much of the smaller of two texts may be covered: their paper edges touch. */
const TOUCH = 0.03
/** The places, but for texts that would lie on one that matters more, or as much and comes first: these stand back. */
function standingBack(seeking: Seeking[], placed: { spot: Label; standing: Standing }[]): Label[] {
  const squares = new Squares()
  const found = placed.map((p) => p.spot)
  const ranks = seeking.map((_, i) => i).filter((i) => seeking[i]?.width)
  for (const i of ranks.sort((a, b) => (seeking[b]?.matters ?? 0) - (seeking[a]?.matters ?? 0) || a - b)) {
    const one = placed[i]
    if (!one) continue
    if (seeking[i]?.firm || squares.covered(one.standing.box) <= TOUCH) squares.add(one.standing.box, 0)
    else found[i] = { ...one.spot, back: true }
  }
  return found
}

function best(text: Seeking, squares: Squares, around: Around): { spot: Label; box: Box; cost: number } {
  let found = { spot: text.spots[0] as Label, box: labelBox(text, text.spots[0] as Label), cost: Infinity }
  text.spots.forEach((spot, i) => {
    const turn = Math.min(i * COST.later, COST.latest)
    if (found.cost <= turn) return
    const box = labelBox(text, spot)
    const cost = turn + squares.cost(box, text.own ?? -1) + standing(box, text, around)
    if (cost < found.cost) found = { spot, box, cost }
  })
  return found
}

/** The cost of where a box stands: on walls or behind one, across the line of a reach, out of its area, out of view. */
function standing(box: Box, text: Seeking, { walls, rings, view }: Around): number {
  const middle = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 }
  const reached = {
    left: Math.min(box.left, text.at.x),
    right: Math.max(box.right, text.at.x),
    top: Math.min(box.top, text.at.y),
    bottom: Math.max(box.bottom, text.at.y),
  }
  const near = walls.filter(
    ([a, b]) =>
      Math.max(a.x, b.x) >= reached.left &&
      Math.min(a.x, b.x) <= reached.right &&
      Math.max(a.y, b.y) >= reached.top &&
      Math.min(a.y, b.y) <= reached.bottom,
  )
  const crossed = near.some(([a, b]) => cuts(a, b, box))
  const parted = !text.inside && near.some(([a, b]) => crosses(text.at, middle, a, b))
  const lines = rings.filter((ring) => onRing(ring, box)).length
  const unseen =
    inView(text.at, view) &&
    (box.left < view.left || box.right > view.right || box.top < view.top || box.bottom > view.bottom)
  const outside = text.inside && !corners(box).every((p) => within(p, text.inside ?? []))
  return (
    (crossed ? COST.wall : 0) +
    (parted ? COST.parted : 0) +
    lines * COST.ring +
    (unseen ? COST.unseen : 0) +
    (outside ? COST.outside : 0)
  )
}

function labelBox({ at, width }: Seeking, { dx, dy, anchor }: Label): Box {
  const x = at.x + dx
  const left = anchor === 'middle' ? x - width / 2 : anchor === 'start' ? x : x - width
  return { left, right: left + width, top: at.y + dy - ASCENT, bottom: at.y + dy + DESCENT }
}
function meets(a: Box, b: Box): boolean {
  return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom
}
/** Whether the point of a text is in view; what is out of it need not be read. */
function inView(p: Point, view: Box): boolean {
  return p.x > view.left && p.x < view.right && p.y > view.top && p.y < view.bottom
}
/** How much two boxes that meet lie on one another: a half for a touch, one for the whole of the smaller. */
function shareOf(a: Box, b: Box): number {
  const both =
    (Math.min(a.right, b.right) - Math.max(a.left, b.left)) * (Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top))
  const area = (c: Box): number => (c.right - c.left) * (c.bottom - c.top)
  return (1 + both / Math.max(Math.min(area(a), area(b)), 1)) / 2
}
function corners(b: Box): Point[] {
  return [
    { x: b.left, y: b.top },
    { x: b.right, y: b.top },
    { x: b.right, y: b.bottom },
    { x: b.left, y: b.bottom },
  ]
}
/** Whether a straight line comes through a box (Liang and Barsky's clipping). */
function cuts(a: Point, b: Point, box: Box): boolean {
  let [from, to] = [0, 1]
  for (const [d, low, high] of [
    [b.x - a.x, box.left - a.x, box.right - a.x],
    [b.y - a.y, box.top - a.y, box.bottom - a.y],
  ] as [number, number, number][]) {
    if (!d && (low > 0 || high < 0)) return false
    if (!d) continue
    from = Math.max(from, Math.min(low / d, high / d))
    to = Math.min(to, Math.max(low / d, high / d))
  }
  return from < to
}
/** Whether two straight lines cross. */
function crosses(a: Point, b: Point, c: Point, d: Point): boolean {
  const side = (p: Point, q: Point, r: Point): number => (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x)
  return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0
}
/** Whether the line of a circle comes through a box. */
function onRing({ at, r }: Ring, box: Box): boolean {
  const [dx, dy] = [Math.max(box.left - at.x, 0, at.x - box.right), Math.max(box.top - at.y, 0, at.y - box.bottom)]
  const far = Math.max(...corners(box).map((p) => Math.hypot(p.x - at.x, p.y - at.y)))
  return Math.hypot(dx, dy) < r && far > r
}
/** Whether a point lies in an outline, by the crossings of a ray. */
export function within(p: Point, outline: Point[]): boolean {
  let inside = false
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length] as Point
    if (a.y > p.y !== b.y > p.y && p.x < ((b.x - a.x) * (p.y - a.y)) / (b.y - a.y) + a.x) inside = !inside
  })
  return inside
}

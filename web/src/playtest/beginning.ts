import { computed, watch, type ComputedRef } from 'vue'
import { useRoute } from 'vue-router'
import type { RowOf } from '@/api/client'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import type { First, PlaytestRun } from './connection'

export interface Beginning {
  begin: () => Promise<void>
  /** Takes up the run that this tab was walking when it was reloaded, else begins one. */
  beginOrGoOn: () => Promise<void>
  leave: () => void
  card: ComputedRef<RowOf<'card'> | undefined>
  /** The kept walk that is watched. */
  walk: ComputedRef<RowOf<'walk'> | undefined>
  words: ComputedRef<string>
}

const RUNNING = 'playtest-running'
const addressOf = (): string => location.pathname + location.search
function wasReloaded(): boolean {
  const [how] = performance.getEntriesByType('navigation') as PerformanceNavigationTiming[]
  return how?.type === 'reload'
}

/** Where a walk begins, by its address: a card, a point, an object, a spot; or what is watched or gone on with. */
export function useBeginning(run: PlaytestRun): Beginning {
  const book = useBook()
  const live = useLive()
  const route = useRoute()
  let left = false
  const asked = (name: string): string => String(route.query[name] ?? '')
  const card = computed(() => book.find('card', asked('card')))
  const walk = computed(() => book.find('walk', asked('watch')))
  const spot = computed(() => asked('spot').split(',').map(Number))
  const words = computed(() => {
    if (walk.value) return `the kept walk ${walk.value.values.name}`
    if (asked('way')) return 'a way of the proof'
    if (asked('run')) return 'an earlier walk'
    if (card.value) return card.value.values.name
    if (live.on) return live.reading?.point ?? ''
    return spot.value.length === 2 ? 'a spot' : 'the start'
  })
  function first(): First {
    const at = asked('at') ? { at: Number(asked('at')) } : {}
    if (walk.value) return { watch: { walk: walk.value.key, ...at } }
    if (asked('way')) return { watch: { way: asked('way'), ...at } }
    if (Number(asked('run'))) return { watch: { run: Number(asked('run')), ...at } }
    if (card.value) return { begin: { card: card.value.key } }
    const [quest = '', stage = ''] = live.asked.split('.')
    const object = String(route.params.selected ?? '')
    const [x, y] = spot.value
    const place = spot.value.length === 2 && Number.isFinite(x) && Number.isFinite(y) ? { x, y } : {}
    return { begin: { quest, stage, changes: live.changes, at: object, level: asked('level'), ...place } }
  }
  /** Begins a run of the project as it is shown: what is still being kept comes first. */
  async function begin(): Promise<void> {
    await book.settled()
    if (!left) run.begin(first())
  }
  const goOn = (number: number): void => {
    if (!left) run.begin({ resume: number })
  }
  async function beginOrGoOn(): Promise<void> {
    const running = sessionStorage.getItem(RUNNING)
    sessionStorage.removeItem(RUNNING)
    const [number = '', address = ''] = running?.split(' ') ?? []
    if (Number(asked('resume'))) goOn(Number(asked('resume')))
    else if (Number(number) && address === addressOf() && wasReloaded()) goOn(Number(number))
    else await begin()
  }
  // What this tab walks is known until it leaves the walk: after a reload the same run goes on.
  watch(run.run, (now) => {
    if (now) sessionStorage.setItem(RUNNING, `${now} ${addressOf()}`)
  })
  function leave(): void {
    left = true
    sessionStorage.removeItem(RUNNING)
  }
  watch(
    () => ['card', 'watch', 'way', 'run', 'resume', 'at'].map(asked).join(' '),
    (now) => {
      if (Number(asked('resume'))) goOn(Number(asked('resume')))
      else if (now.trim()) void begin()
    },
  )
  return { begin, beginOrGoOn, leave, card, walk, words }
}

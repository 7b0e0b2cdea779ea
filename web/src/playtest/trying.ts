import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import { placed, touched, type Placed } from '@/plan/designs'
import { useBook } from '@/stores/book'
import { useTried } from '@/stores/tried'
import type { PlaytestRun } from './connection'
import { tunableOfLine, tunablesOf, tunablesOfProject, type Tunable } from './tunables'

interface Wiring {
  run: PlaytestRun
  /** The object that values are tried of. */
  subject: () => string
}
export interface Trying {
  groups: ComputedRef<{ title: string; tunables: Tunable[] }[]>
  /** What is tried in this walk, by `of` and `path`. */
  applied: Ref<ReadonlyMap<string, number | boolean>>
  camera: ComputedRef<{ view_m: number; look_ahead_m: number; behind_s: number; inside_area: boolean }>
  /** An object with what is tried of it. */
  tuned: (one: Placed) => Placed
  tryOut: (one: Tunable, value: number | boolean) => void
  forget: () => void
}

const CAMERA = { view_m: 26, look_ahead_m: 1.5, behind_s: 0.18, inside_area: true }

/** Values tried while walking: those of the camera at once, the others by the engine. */
export function useTrying({ run, subject }: Wiring): Trying {
  const book = useBook()
  const tried = useTried()
  const applied = ref<ReadonlyMap<string, number | boolean>>(new Map())
  const keyOf = (one: { of: string; path: string }): string => `${one.of} ${one.path}`
  const note = (one: { of: string; path: string; value: number | boolean }): void => {
    applied.value = new Map([...applied.value, [keyOf(one), one.value]])
  }
  watch(run.tried, (list) => list.forEach(note))

  const camera = computed(() => {
    const own = { ...CAMERA, ...book.settings?.values.camera }
    const changed = Object.keys(CAMERA).flatMap((path) => {
      const value = applied.value.get(`camera ${path}`)
      return value === undefined ? [] : [[path, value] as const]
    })
    return { ...own, ...Object.fromEntries(changed) }
  })
  function tuned(one: Placed): Placed {
    const mine = [...applied.value].filter(([key]) => key.startsWith(`${one.row.key} `))
    if (!mine.length) return one
    const values = Object.fromEntries(mine.map(([key, value]) => [key.slice(one.row.key.length + 1), value]))
    return { ...one, design: touched(one.design, values) }
  }
  const said = computed(() => run.picture.value?.talk?.line ?? '')
  const groups = computed(() => {
    const settings = book.settings
    const row = book.find('object', subject())
    const line = book.find('line', said.value)
    const { player, camera: seen } = settings ? tunablesOfProject(settings) : { player: [], camera: [] }
    const seconds = line?.values.seconds ?? Math.round((line?.values.wordings[0]?.length ?? 0) / 1.5) / 10
    return [
      { title: row?.values.name ?? '', tunables: row ? tunablesOf(placed(row, book.kinds)) : [] },
      { title: 'Line', tunables: line ? [tunableOfLine(line.key, Math.max(seconds, 1.2))] : [] },
      { title: 'Player', tunables: player },
      { title: 'Camera', tunables: seen },
    ]
  })
  function tryOut(one: Tunable, value: number | boolean): void {
    const known = tried.all.find((t) => t.of === one.of && t.path === one.path)
    const was = known?.was ?? one.value
    if (one.of === 'camera') note({ ...one, value })
    else run.send({ try: [{ of: one.of, path: one.path, value }] })
    tried.put({ of: one.of, path: one.path, label: one.label, unit: one.unit, was, value })
  }
  function forget(): void {
    applied.value = new Map()
  }
  return { groups, applied, camera, tuned, tryOut, forget }
}

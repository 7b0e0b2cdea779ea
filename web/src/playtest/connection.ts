import { refAutoReset, useNow } from '@vueuse/core'
import { computed, onUnmounted, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import type { Problem } from '@/api/client'

export interface LivePrompt { object: string; control: string; cap: string; wording: string; usable: boolean; reason: string; hold: boolean; place: string; at: [number, number]; screen: [number, number]; opens_s: number; progress: number; buttons: LiveButton[] }
export interface LiveButton { key: string; wording: string; usable: boolean; reason: string }
export interface TalkReply { key: string; wording: string; usable: boolean; reason: string }
export interface Talk { line: string; speaker: string; wording: string; voice: number; replies: TalkReply[] }
export interface Told { tick: number; what: string; subject: string; text: string; origin: string; cause: string; rule: string; at?: string; spot?: [number, number] }
export interface LiveThing { state: string; state_number: number; lit: boolean; exists: boolean; pose: [number, number, number]; at: [number, number, number]; kind: string; name: string; down: boolean; icon: string }
export interface HudObjective { key: string; name: string; met: boolean; optional: boolean; count: number; of: number; marker: string }
export interface HudQuest { key: string; name: string; stage: string; bead: string; journal: string; objectives: HudObjective[]; ready: boolean }
export interface Hud {
  quests: HudQuest[]
  items: { key: string; name: string; icon: string; count: number; text: string }[]
  money: number
  money_name: string
  experience: number
  experience_level: number
  gear: { slot: string; item: string }[]
  abilities: { key: string; name: string; uses: number; cap: string; usable: boolean }[]
  marked: string[]
  ended: '' | 'won' | 'lost'
  tracked: { verb: string; name: string; count: number }[]
}
export interface Picture {
  tick: number
  player: [number, number, number]
  walkers: Record<string, [number, number, number]>
  poses: Record<string, [number, number, number]>
  prompts: LivePrompt[]
  talk: Talk | null
  told: Told[]
  level?: string
  aims?: Record<string, string>
  objects?: Record<string, LiveThing>
  hud?: Hud
}
export interface WhyLine { text: string; met: boolean; detail: string; from?: { origin: string; text: string }[] }
export interface Why {
  key: string
  name: string
  stopped_by: string
  place: WhyLine[]
  cues: { origin: string; rule: string; passed_over: boolean; when: string; control: string; met: boolean; needs: WhyLine[] }[]
  reach: (WhyLine & { key: string; cap: string })[]
  problems?: Problem[]
}
/** Where somebody was sent whom no way leads there, and what is said of it. */
export interface Barred { at: [number, number]; text: string }
interface Message { barred?: Barred; picture?: Picture; why?: Why; run?: number; problems?: Problem[]; wrong?: Problem[]; paused?: boolean; pace?: number; ended?: boolean }

/**
 * | state | what it means |
 * |---|---|
 * | starting | no picture of this run has come yet |
 * | going | pictures come |
 * | behind | none has come for a while |
 * | lost | the connection broke; it is taken up again |
 * | catching up | what was done before is played again |
 * | ended | the run is over for a reason that is told |
 */
export type RunState = 'starting' | 'going' | 'behind' | 'lost' | 'catching up' | 'ended'

export interface PlaytestRun {
  before: ShallowRef<Picture | null>
  picture: ShallowRef<Picture | null>
  arrived: Ref<number>
  objects: ShallowRef<Record<string, LiveThing>>
  hud: ShallowRef<Hud | null>
  level: Ref<string>
  chronicle: ShallowRef<Told[]>
  why: ShallowRef<Why | null>
  problems: Ref<Problem[]>
  wrong: Ref<Problem[]>
  paused: Ref<boolean>
  pace: Ref<number>
  state: ComputedRef<RunState>
  silentS: ComputedRef<number>
  barred: ShallowRef<Barred | null>
  send: (message: Record<string, unknown>) => void
  begin: (start: Record<string, unknown>) => void
  close: () => void
}

const MOST_TOLD = 600
const AGAIN_MS = 600
const BEHIND_MS = 700
const BARRED_MS = 2500

/** One run over one WebSocket. A lost connection is taken up again from where the run was. */
export function usePlaytest(project: number): PlaytestRun {
  const before = shallowRef<Picture | null>(null)
  const picture = shallowRef<Picture | null>(null)
  const arrived = ref(0)
  const objects = shallowRef<Record<string, LiveThing>>({})
  const hud = shallowRef<Hud | null>(null)
  const level = ref('')
  const chronicle = shallowRef<Told[]>([])
  const why = shallowRef<Why | null>(null)
  const problems = ref<Problem[]>([])
  const wrong = ref<Problem[]>([])
  const barred = refAutoReset<Barred | null>(null, BARRED_MS)
  const paused = ref(false)
  const pace = ref(1)
  const connected = ref(false)
  const ended = ref(false)
  /** Whether a picture came over the socket that is open now. */
  const shown = ref(false)
  const clock = useNow({ interval: 250 })
  const silent = computed(() => (paused.value ? 0 : clock.value.getTime() - performance.timeOrigin - arrived.value))
  const silentS = computed(() => Math.round(silent.value / 100) / 10)
  const state = computed<RunState>(() => {
    if (ended.value) return 'ended'
    if (!picture.value) return 'starting'
    if (!connected.value) return 'lost'
    if (!shown.value) return 'catching up'
    return silent.value > BEHIND_MS ? 'behind' : 'going'
  })
  let socket: WebSocket | null = null
  let run = 0
  let closed = false

  function take(message: Message): void {
    if (message.run) run = message.run
    if (message.paused !== undefined) paused.value = message.paused
    if (message.pace !== undefined) pace.value = message.pace
    if (message.problems) problems.value = message.problems
    if (message.wrong) wrong.value = message.wrong
    if (message.why) why.value = message.why
    if (message.barred) barred.value = message.barred
    if (message.ended) closed = ended.value = true
    if (message.picture) show(message.picture)
  }
  function show(next: Picture): void {
    shown.value = true
    before.value = picture.value
    picture.value = next
    arrived.value = performance.now()
    if (next.level) {
      level.value = next.level
      objects.value = {}
    }
    if (next.objects) objects.value = { ...objects.value, ...next.objects }
    if (next.hud) hud.value = next.hud
    if (next.told.length) chronicle.value = [...chronicle.value, ...next.told].slice(-MOST_TOLD)
  }
  function open(first: Record<string, unknown>): void {
    socket?.close()
    shown.value = false
    const mine = new WebSocket(`${location.origin.replace('http', 'ws')}/ws/projects/${project}/play`)
    socket = mine
    mine.onopen = () => {
      connected.value = true
      chronicle.value = []
      mine.send(JSON.stringify(first))
    }
    mine.onmessage = (event: MessageEvent<string>) => take(JSON.parse(event.data) as Message)
    mine.onclose = () => {
      if (socket !== mine) return
      connected.value = false
      if (!closed && run) window.setTimeout(() => !closed && socket === mine && open({ resume: run }), AGAIN_MS)
    }
  }
  function begin(start: Record<string, unknown>): void {
    run = 0
    closed = ended.value = false
    problems.value = []
    wrong.value = []
    why.value = null
    before.value = picture.value = null
    hud.value = null
    chronicle.value = []
    open({ begin: start })
  }
  /** Tells the run something; before its first picture there is nothing yet that it could be meant for. */
  function send(message: Record<string, unknown>): void {
    if (shown.value && socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message))
  }
  function close(): void {
    closed = true
    socket?.close()
  }
  onUnmounted(close)
  return { before, picture, arrived, objects, hud, level, chronicle, why, problems, wrong, paused, pace, state, silentS, barred, send, begin, close }
}

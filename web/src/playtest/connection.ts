import { refAutoReset, useEventListener, useNow } from '@vueuse/core'
import { computed, onUnmounted, ref, shallowRef, triggerRef, type ComputedRef, type Ref, type ShallowRef } from 'vue'
import type { Problem, Schemas } from '@/api/client'

/** What a run tells, as the server describes it. */
export type LivePrompt = Schemas['PromptShown']
export type LiveButton = Schemas['ButtonShown']
export type LiveThing = Schemas['ThingShown']
export type Talk = Schemas['TalkShown']
export type Told = Schemas['ToldShown']
export type Hud = Schemas['Hud']
export type HudQuest = Schemas['QuestShown']
export type Picture = Schemas['Picture']
export type Why = Schemas['Why']
export type WhyLine = Schemas['WhyLine']
export type Barred = Schemas['BarredShown']
export type Starting = Schemas['StartingShown']
export type Then = Schemas['ThenShown']
export type Because = Schemas['Because']
export type WalkShown = Schemas['WalkShown']
export type Tried = Schemas['TriedShown']
/** What a run begins with: a start of its own, a run that goes on, or one that is only watched. */
export type First = { begin: Record<string, unknown> } | { resume: number } | { watch: Record<string, unknown> }
type Message = Schemas['PlayMessage']

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
  /** What the run had come to when it was asked for, as the values of a start card. */
  moment: ShallowRef<Record<string, unknown> | null>
  /** The chronicle as lines of JSON, once it was asked for. */
  exported: ShallowRef<string>
  starting: ShallowRef<Starting | null>
  /** The edit of the project that the run is of. */
  edit: Ref<number>
  /** What of the moment that it began from did not fit into the project any more. */
  leftOut: Ref<string[]>
  /** Whether it began where the run before it had come to. */
  fromHere: Ref<boolean>
  /** The number of the run; 0 for one that is only watched. */
  run: Ref<number>
  /** Whether it is only watched, and whether all of it has been. */
  watched: Ref<boolean>
  watchedAll: Ref<boolean>
  /** Whether it came to something else than before when it was put together again. */
  otherwise: Ref<boolean>
  /** The level as it was, while an earlier moment is looked at. */
  then: ShallowRef<Then | null>
  /** What brought entries of the chronicle about, as far as it was asked for, by their numbers. */
  because: ShallowRef<ReadonlyMap<number, Because>>
  /** The run so far as a kept walk, once it was asked for. */
  walked: ShallowRef<WalkShown | null>
  /** The values that were just taken to be tried. */
  tried: ShallowRef<Tried[]>
  send: (message: Record<string, unknown>) => void
  begin: (first: First) => void
  close: () => void
}

const MOST_TOLD = 2000
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
  const starting = shallowRef<Starting | null>(null)
  const moment = shallowRef<Record<string, unknown> | null>(null)
  const exported = shallowRef('')
  const edit = ref(0)
  const leftOut = ref<string[]>([])
  const fromHere = ref(false)
  const watched = ref(false)
  const watchedAll = ref(false)
  const otherwise = ref(false)
  const then = shallowRef<Then | null>(null)
  const because = shallowRef<ReadonlyMap<number, Because>>(new Map())
  const walked = shallowRef<WalkShown | null>(null)
  const tried = shallowRef<Tried[]>([])
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
  const run = ref(0)
  let first: First = { begin: {} }
  let closed = false

  function take(message: Message): void {
    if (message.run) {
      // The server begins another run on the same connection when it is asked to begin again here.
      if (message.run !== run.value && (run.value || watched.value)) {
        forget()
        fromHere.value = true
      }
      run.value = message.run
    }
    if (message.run !== undefined) {
      edit.value = message.edit ?? 0
      leftOut.value = message.left_out ?? []
    }
    if (message.paused !== undefined) paused.value = message.paused
    if (message.pace !== undefined) pace.value = message.pace
    if (message.problems) problems.value = message.problems
    if (message.wrong) wrong.value = message.wrong
    if (message.why) why.value = message.why
    if (message.barred) barred.value = message.barred
    if (message.moment) moment.value = message.moment
    if (message.export !== undefined) {
      exported.value = message.export
      triggerRef(exported)
    }
    if (message.watched !== undefined) watched.value = message.watched
    if (message.otherwise !== undefined) otherwise.value = message.otherwise
    if (message.watched_all) watchedAll.value = true
    if (message.then) then.value = message.then
    if (message.because) because.value = new Map([...because.value, [message.because.entry, message.because]])
    if (message.walk) walked.value = message.walk
    if (message.tried) tried.value = message.tried
    if (message.starting) starting.value = message.starting
    if (message.ended) closed = ended.value = true
    if (message.picture) show(message.picture)
  }
  function show(next: Picture): void {
    shown.value = true
    starting.value = null
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
  function open(message: First): void {
    socket?.close()
    shown.value = false
    const mine = new WebSocket(`${location.origin.replace('http', 'ws')}/ws/projects/${project}/play`)
    socket = mine
    mine.onopen = () => {
      connected.value = true
      chronicle.value = []
      mine.send(JSON.stringify(message))
    }
    mine.onmessage = (event: MessageEvent<string>) => take(JSON.parse(event.data) as Message)
    mine.onclose = () => {
      if (socket !== mine) return
      connected.value = false
      if (!closed && (run.value || watched.value))
        window.setTimeout(() => !closed && socket === mine && open(run.value ? { resume: run.value } : first), AGAIN_MS)
    }
  }
  function begin(message: First): void {
    run.value = 0
    first = message
    closed = ended.value = fromHere.value = false
    forget()
    open(message)
  }
  /** Forgets what the last run showed. */
  function forget(): void {
    shown.value = watched.value = watchedAll.value = false
    then.value = walked.value = null
    because.value = new Map()
    leftOut.value = []
    problems.value = []
    wrong.value = []
    why.value = null
    before.value = picture.value = null
    hud.value = null
    chronicle.value = []
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
  // A page that the browser keeps for its way back keeps its connection, too; shown again, it takes its run up again.
  useEventListener(window, 'pagehide', () => socket?.close())
  return {
    before,
    picture,
    arrived,
    objects,
    hud,
    level,
    chronicle,
    why,
    problems,
    wrong,
    paused,
    pace,
    state,
    silentS,
    barred,
    moment,
    exported,
    starting,
    edit,
    leftOut,
    fromHere,
    run,
    watched,
    watchedAll,
    otherwise,
    then,
    because,
    walked,
    tried,
    send,
    begin,
    close,
  }
}

import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { answered, api, RefusedError, tabName } from '@/api/client'
import type { ChangeAsked, EditDone, Problem, Refusal, Row, RowOf, RowType, Schemas } from '@/api/client'
import { reaching, triedAgainIn } from '@/api/connection'
import { placed, touched, valueAt } from '@/plan/designs'
import { useNews } from './news'
import { useOutbox } from './outbox'

type Values = Record<string, unknown>
type Answer = { data?: EditDone; error?: unknown; response: Response }
type Call = () => Promise<{ data?: unknown; error?: unknown; response: Response }>

/** Types whose names are unique in their owner alone. */
const OWNED: RowType[] = ['cue', 'reply', 'stage']
/** The fields that hold a text of the language. */
const TEXTS = ['text', 'draft', 'needs', 'steps', 'rewards', 'entering']
const BLANK: ChangeAsked = {
  do: 'set',
  id: null,
  version: null,
  type: '',
  owner: null,
  under: null,
  then_of: null,
  key: null,
  order: null,
  values: {},
  clean: false,
}

function grouped<K>(rows: Row[], by: (row: Row) => K): Map<K, Row[]> {
  const found = new Map<K, Row[]>()
  for (const row of rows) {
    const group = found.get(by(row))
    if (group) group.push(row)
    else found.set(by(row), [row])
  }
  return found
}

/** The records of the open project, as the server has them, and the only way to change them. */
export const useBook = defineStore('book', () => {
  const project = ref(0)
  const editNumber = ref(0)
  const rows = shallowRef(new Map<number, Row>())
  const undoName = ref('')
  const redoName = ref('')
  const savedAt = ref('')
  const refusal = ref<Refusal | null>(null)
  const tab = tabName()

  const all = computed(() => [...rows.value.values()].sort((a, b) => a.order - b.order || a.id - b.id))
  /**
   * Names in cues that were others since the project was opened: an address that still has the old one finds the
   * record.
   */
  const renamed = shallowRef(new Map<string, string>())
  const byKey = computed(() => {
    const found = new Map(all.value.filter((r) => !OWNED.includes(r.type)).map((r) => [r.key, r]))
    for (const [old, now] of renamed.value) {
      const row = found.get(now)
      if (row && !found.has(old)) found.set(old, row)
    }
    return found
  })
  const settings = computed(() => of('project')[0])
  /** The kinds by their names in cues. */
  const kinds = computed(() => new Map(of('kind').map((k) => [k.key, k])))

  /** The present name of what an address calls by one that it had; of a stage after its quest, of each of the two. */
  function nowCalled(name: string): string {
    const [first = '', own] = name.split('.')
    if (own === undefined) return byKey.value.get(name)?.key ?? renamed.value.get(name) ?? name
    const quest = find('quest', first)
    const whole = `${quest?.key ?? first}.${own}`
    if (of('stage', quest?.id ?? 0).some((s) => s.key === own)) return whole
    const then = renamed.value.get(name) ?? renamed.value.get(whole)
    return then === undefined ? whole : nowCalled(then)
  }
  const byType = computed(() => grouped(all.value, (r) => r.type))
  const byOwner = computed(() => grouped(all.value, (r) => r.owner))
  function of<T extends RowType>(type: T, owner?: number): readonly RowOf<T>[] {
    if (owner === undefined) return (byType.value.get(type) ?? []) as RowOf<T>[]
    return (byOwner.value.get(owner) ?? []).filter((r): r is RowOf<T> => r.type === type)
  }
  function find<T extends RowType>(type: T, key: string): RowOf<T> | undefined {
    const row = byKey.value.get(key)
    if (row?.type === type) return row as RowOf<T>
    return OWNED.includes(type) ? of(type).find((r) => r.key === key) : undefined
  }
  /** A name for something new: as given, with a number where something of its type is called that already. */
  function freshName(type: RowType, wanted: string): string {
    const taken = new Set(of(type).map((r) => ('name' in r.values ? r.values.name : '')))
    let number = 2
    while (taken.has(number === 2 ? wanted : `${wanted} ${number - 1}`)) number++
    return number === 2 ? wanted : `${wanted} ${number - 1}`
  }
  /** A name in cues that nothing has yet. */
  function freeKey(wanted: string): string {
    let number = 2
    const next = (): string => (number === 2 ? wanted : `${wanted}_${number - 1}`)
    while (byKey.value.has(next())) number++
    return next()
  }
  const named = (key: string): boolean => byKey.value.has(key)
  function name(key: string): string {
    const row = byKey.value.get(key)
    return row && 'name' in row.values ? String(row.values.name) : key.replaceAll('_', ' ')
  }

  async function open(id: number): Promise<void> {
    const result = await api.GET('/api/projects/{project}', { params: { path: { project: id }, query: { tab } } })
    const data = answered(result) as Row[]
    project.value = id
    rows.value = new Map(data.map((r) => [r.id, r]))
    editNumber.value = Number((result.response.headers.get('ETag') ?? '').replaceAll('"', ''))
    undoName.value = String(JSON.parse(result.response.headers.get('Undo-Name') ?? '""'))
    redoName.value = String(JSON.parse(result.response.headers.get('Redo-Name') ?? '""'))
    refusal.value = null
    renamed.value = new Map()
    overtaken.clear()
    heardOf = editNumber.value
    news.listen(id)
  }

  /** Rows that are shown otherwise than the server has them, as the server has them. */
  const held = new Map<number, Row>()

  /** The name of a record as an address says it: a stage after its quest. */
  function fullName(row: Row | undefined): string | undefined {
    return row?.type === 'stage' ? `${rows.value.get(row.owner ?? 0)?.key ?? ''}.${row.key}` : row?.key
  }
  /** Remember what records were called until now. */
  function noteRenamed(now: Row[]): void {
    const named = now.map((row) => [fullName(rows.value.get(row.id)), fullName(row)] as const)
    const others = named.filter((pair): pair is [string, string] => pair[0] !== undefined && pair[0] !== pair[1])
    if (!others.length) return
    const next = new Map(
      [...renamed.value].map(([old, then]) => [old, others.find(([was]) => was === then)?.[1] ?? then]),
    )
    for (const [old, key] of others) next.set(old, key)
    renamed.value = next
  }

  /** The numbers of the edits that changed start cards and kept walks alone: they mean nothing to a run. */
  const ofKept = shallowRef(new Set<number>())
  function noteKept(number: number, ids: number[], known: Map<number, Row>): void {
    const types = ids.map((id) => known.get(id)?.type)
    const kept = types.length && types.every((type) => type === 'card' || type === 'walk')
    if (kept) ofKept.value = new Set([...ofKept.value, number])
  }
  /** How many edits were made since a number, those of start cards and kept walks aside. */
  function editsSince(number: number): number {
    const passed = [...ofKept.value].filter((n) => n > number && n <= editNumber.value).length
    return Math.max(editNumber.value - number - passed, 0)
  }

  function take(done: EditDone): void {
    const next = new Map(rows.value)
    for (const row of done.rows) {
      next.set(row.id, row)
      held.delete(row.id)
    }
    noteKept(done.edit_number, [...done.rows.map((row) => row.id), ...done.removed], next)
    for (const id of done.removed) next.delete(id)
    noteRenamed(done.rows as Row[])
    rows.value = next
    editNumber.value = done.edit_number
    undoName.value = done.undo
    redoName.value = done.redo
    savedAt.value = new Date().toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
    refusal.value = null
  }

  const { pending, inTurn, aside, settled } = useOutbox()
  /** Whether a record is still there once the edits under way are done; only then is anything asked about it. */
  async function stays(id: number): Promise<boolean> {
    await settled()
    return rows.value.has(id)
  }

  /**
   * Sends what changes the project, each under a name of its own, so that what is sent again is done once. A refusal
   * is kept for the band and thrown on, so that the place of the edit can show it too.
   */
  function sent(
    build: (ask: string) => Call,
    shown: () => void = () => undefined,
    atOnce: () => void = () => undefined,
  ): Promise<EditDone> {
    if (triedAgainIn.value) shown()
    else atOnce()
    underWay.add(atOnce)
    return inTurn(async () => {
      const call = build(crypto.randomUUID())
      try {
        const done = answered<EditDone>((await reaching(call, shown)) as Answer)
        underWay.delete(atOnce)
        take(done)
        return done
      } catch (error) {
        underWay.delete(atOnce)
        if (error instanceof RefusedError) refusal.value = error.refusal
        restore()
        throw error
      } finally {
        // What comes after it and is still under way is shown again, so that it is what the next change is made to.
        for (const show of underWay) show()
      }
    })
  }
  /** Shows each edit under way at once, the first one first. */
  const underWay = new Set<() => void>()

  function edit(changes: Partial<ChangeAsked>[], name = '', gesture = ''): Promise<EditDone> {
    const looked = since
    const kept = (): void => changes.forEach(showKept)
    const atOnce = (): void => changes.filter((c) => !rewords(c)).forEach(showKept)
    return sent((ask) => {
      const full = changes.map((c) => ({
        ...BLANK,
        ...c,
        version: c.do === 'add' || !c.id ? null : versionOf(c, looked),
      }))
      return () =>
        api.POST('/api/projects/{project}/edits', { params: at(), body: { tab, changes: full, name, gesture, ask } })
    }, kept, atOnce)
  }
  /** Whether a change puts a text that is shown by its reading, which only the server has. */
  const rewords = (c: Partial<ChangeAsked>): boolean => TEXTS.some((field) => field in (c.values ?? {}))
  /** What is not saved yet is shown as it was meant. */
  function showKept(c: Partial<ChangeAsked>): void {
    if (c.id && c.do === 'set') showSet(c.id, (c.values ?? {}) as Values, c.order)
    if (c.id && c.do === 'set_in_design') showInDesign(c.id, (c.values ?? {}) as Values)
  }
  const at = (): { path: { project: number } } => ({ path: { project: project.value } })
  const versionOf = (c: Partial<ChangeAsked>, since: number): number | null =>
    c.version ?? seenAt(c, since) ?? rows.value.get(c.id ?? 0)?.version ?? null

  // --- what was written while somebody else changed the same

  /** Rows as they were before another tab changed them, with the number of the edit that did. */
  const overtaken = new Map<number, { number: number; row: Row }[]>()
  let since = Infinity
  /**
   * Do what changes something that was looked at when the project had an edit number: what others changed in it since
   * is a conflict.
   */
  function asSeenAt(number: number, work: () => void): void {
    since = number
    try {
      work()
    } finally {
      since = Infinity
    }
  }
  /** What `asSeenAt` was given, for work that goes on later. */
  const lookedAt = (): number => since
  /**
   * The version of a record as it was when its values were looked at, where another tab has changed one of them since.
   */
  function seenAt(c: Partial<ChangeAsked>, number: number): number | undefined {
    const first = overtaken.get(c.id ?? 0)?.find((one) => one.number > number)
    const now = held.get(c.id ?? 0) ?? rows.value.get(c.id ?? 0)
    if (!first || !now) return undefined
    const asked = Object.keys(c.values ?? {})
    const met = asked.some((field) => JSON.stringify(heldAt(first.row, field)) !== JSON.stringify(heldAt(now, field)))
    return met ? first.row.version : undefined
  }
  /** What a record holds in a field, or a kind at a path of its design. */
  const heldAt = (row: Row, at: string): unknown =>
    at in row.values ? (row.values as Values)[at] : row.type === 'kind' ? valueAt(row.values.design, at) : undefined
  /** Put values into a kind's design. */
  function setInDesign(kind: number, values: Values, name: string): Promise<EditDone> {
    return edit([{ do: 'set_in_design', id: kind, values: values as ChangeAsked['values'] }], name)
  }
  /** Set values of one record. */
  function set(id: number, values: Values, name = '', gesture = ''): Promise<EditDone> {
    return edit([{ do: 'set', id, values: values as ChangeAsked['values'] }], name, gesture)
  }
  /** Take back what was only shown. */
  function restore(): void {
    if (!held.size) return
    rows.value = new Map([...rows.value, ...held])
    held.clear()
  }
  /** Show values at once, before the server has answered (a drag). */
  function show(id: number, values: Values): void {
    showAs(id, (row) => ({ ...row, values: { ...row.values, ...values } }) as Row)
  }
  /** Show at once what a record is set to, and where it is put; an object with values of its own looks by them. */
  function showSet(id: number, values: Values, order?: number | null): void {
    showAs(id, (row) => {
      const set = { ...row, order: order ?? row.order, values: { ...row.values, ...values } } as Row
      if (set.type !== 'object' || !values.own) return set
      return { ...set, design: touched(placed(set, kinds.value).design, values.own as Values) }
    })
  }
  /** Show an object or a kind at once with values at paths of its design. */
  function showInDesign(id: number, values: Values): void {
    showAs(id, (row) => {
      if (row.type === 'kind') return { ...row, values: { ...row.values, design: touched(row.values.design, values) } }
      if (row.type !== 'object') return row
      return { ...row, design: touched(placed(row, kinds.value).design, values) }
    })
  }
  function showAs(id: number, shown: (row: Row) => Row): void {
    const row = rows.value.get(id)
    if (!row) return
    if (!held.has(id)) held.set(id, row)
    rows.value = new Map(rows.value).set(id, shown(row))
  }
  const place = (body: Omit<Schemas['PlaceAsked'], 'tab' | 'ask'>): Promise<EditDone> =>
    sent((ask) => () => api.POST('/api/projects/{project}/place', { params: at(), body: { ...body, tab, ask } }))
  const duplicate = (records: number[], dx_m: number, dy_m: number): Promise<EditDone> =>
    sent(
      (ask) => () =>
        api.POST('/api/projects/{project}/duplicate', { params: at(), body: { tab, records, dx_m, dy_m, ask } }),
    )
  const offer = (quest: number, by: string, to: string): Promise<EditDone> =>
    sent((ask) => () => api.POST('/api/projects/{project}/offers', { params: at(), body: { tab, quest, by, to, ask } }))
  const undoOne = (number: number): Promise<EditDone> =>
    sent(
      (ask) => () =>
        api.POST('/api/projects/{project}/edits/{number}/undo', {
          params: { path: { project: project.value, number } },
          body: { tab, ask },
        }),
    )
  const makeSound = (
    record: number,
    how: Pick<Schemas['PlaceholderAsked'], 'sort' | 'seconds' | 'height' | 'rough'>,
  ): Promise<EditDone> =>
    sent((ask) => {
      const version = rows.value.get(record)?.version ?? 0
      const params = { path: { project: project.value, record } }
      return () =>
        api.POST('/api/projects/{project}/sounds/{record}/placeholder', { params, body: { ...how, tab, version, ask } })
    })
  /** Give a sound its file or an item its picture; what is too large or of another sort is refused with what to do. */
  const giveFile = (record: number, file: Blob, seconds: number | null = null): Promise<EditDone> =>
    sent((ask) => {
      const version = rows.value.get(record)?.version ?? 0
      return () =>
        api.POST('/api/projects/{project}/records/{record}/file', {
          params: {
            path: { project: project.value, record },
            query: { tab, ask, ...(seconds === null ? {} : { seconds }) },
            header: { 'If-Match': `"${version}"` },
          },
          body: file as never,
          bodySerializer: (b: unknown) => b as Blob,
          headers: { 'Content-Type': 'application/octet-stream' },
        })
    })
  const undo = (): Promise<EditDone> =>
    sent((ask) => () => api.POST('/api/projects/{project}/undo', { params: at(), body: { tab, ask } }))
  const redo = (): Promise<EditDone> =>
    sent((ask) => () => api.POST('/api/projects/{project}/redo', { params: at(), body: { tab, ask } }))

  // --- what other tabs do

  let heardOf = 0
  const news = useNews(
    () => heardOf,
    (heard) => {
      heardOf = heard.edit_number
      if (heard.tab !== tab) aside(() => catchUp(heard))
    },
  )
  async function catchUp(heard: Schemas['EventShape']): Promise<void> {
    const path = { project: project.value }
    const some = { params: { path, query: { ids: heard.changed.join(',') } } }
    const every = { params: { path, query: { tab } } }
    const result = heard.all
      ? await api.GET('/api/projects/{project}', every)
      : await api.GET('/api/projects/{project}/records', some)
    const next = heard.all ? new Map<number, Row>() : new Map(rows.value)
    const fresh = answered(result) as Row[]
    noteRenamed(fresh)
    for (const row of fresh) {
      const was = held.get(row.id) ?? rows.value.get(row.id)
      if (was) overtaken.set(row.id, [...(overtaken.get(row.id) ?? []), { number: heard.edit_number, row: was }])
      if (held.has(row.id)) held.set(row.id, row)
      else next.set(row.id, row)
    }
    noteKept(heard.edit_number, [...heard.changed, ...heard.removed], next)
    for (const id of heard.removed) next.delete(id)
    rows.value = next
    editNumber.value = Math.max(editNumber.value, heard.edit_number)
  }

  return {
    project,
    editNumber,
    rows,
    all,
    byKey,
    renamed,
    nowCalled,
    freshName,
    freeKey,
    named,
    settings,
    kinds,
    editsSince,
    undoName,
    redoName,
    savedAt,
    refusal,
    pending,
    settled,
    stays,
    tab,
    of,
    find,
    name,
    open,
    edit,
    asSeenAt,
    lookedAt,
    set,
    setInDesign,
    show,
    showInDesign,
    restore,
    place,
    duplicate,
    offer,
    undoOne,
    giveFile,
    makeSound,
    undo,
    redo,
  }
})

/** The problems of an error, for showing beside the place where it happened. */
export function problemsOf(error: unknown): Problem[] {
  if (error instanceof RefusedError) return error.refusal.problems
  throw error
}

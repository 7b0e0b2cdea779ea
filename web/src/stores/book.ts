import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { answered, api, RefusedError, tabName } from '@/api/client'
import type { ChangeAsked, EditDone, Problem, Refusal, Row, RowOf, RowType, Schemas } from '@/api/client'
import { reaching, triedAgainIn } from '@/api/connection'
import { useNews } from './news'
import { useOutbox } from './outbox'

type Values = Record<string, unknown>
type Answer = { data?: EditDone; error?: unknown; response: Response }
type Call = () => Promise<{ data?: unknown; error?: unknown; response: Response }>

const BLANK: ChangeAsked = { do: 'set', id: null, version: null, type: '', owner: null, under: null, key: null, order: null, values: {}, clean: false }

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
  const byKey = computed(() => new Map(all.value.filter((r) => !['cue', 'reply', 'stage'].includes(r.type)).map((r) => [r.key, r])))
  const settings = computed(() => all.value.find((r): r is RowOf<'project'> => r.type === 'project'))

  function of<T extends RowType>(type: T, owner?: number): RowOf<T>[] {
    return all.value.filter((r): r is RowOf<T> => r.type === type && (owner === undefined || r.owner === owner))
  }
  function find<T extends RowType>(type: T, key: string): RowOf<T> | undefined {
    return all.value.find((r): r is RowOf<T> => r.type === type && r.key === key)
  }
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
    heardOf = editNumber.value
    news.listen(id)
  }

  /** Rows that are shown otherwise than the server has them, as the server has them. */
  const held = new Map<number, Row>()

  function take(done: EditDone): void {
    const next = new Map(rows.value)
    for (const row of done.rows) {
      next.set(row.id, row)
      held.delete(row.id)
    }
    for (const id of done.removed) next.delete(id)
    rows.value = next
    editNumber.value = done.edit_number
    undoName.value = done.undo
    redoName.value = done.redo
    savedAt.value = new Date().toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
    refusal.value = null
  }

  const { pending, inTurn, aside } = useOutbox()

  /** Sends what changes the project, each under a name of its own, so that what is sent again is done once. A refusal is kept
   * for the band and thrown on, so that the place of the edit can show it too. */
  function sent(build: (ask: string) => Call, shown: () => void = () => undefined): Promise<EditDone> {
    if (triedAgainIn.value) shown()
    return inTurn(async () => {
      const call = build(crypto.randomUUID())
      try {
        const done = answered<EditDone>((await reaching(call, shown)) as Answer)
        take(done)
        return done
      } catch (error) {
        if (error instanceof RefusedError) refusal.value = error.refusal
        restore()
        throw error
      }
    })
  }

  function edit(changes: Partial<ChangeAsked>[], name = '', gesture = ''): Promise<EditDone> {
    const kept = (): void => changes.forEach((c) => c.do === 'set' && c.id && show(c.id, (c.values ?? {}) as Values))
    return sent((ask) => {
      const full = changes.map((c) => ({ ...BLANK, ...c, version: c.do === 'add' || !c.id ? null : versionOf(c) }))
      return () => api.POST('/api/projects/{project}/edits', { params: at(), body: { tab, changes: full, name, gesture, ask } })
    }, kept)
  }
  const at = (): { path: { project: number } } => ({ path: { project: project.value } })
  const versionOf = (c: Partial<ChangeAsked>): number | null => c.version ?? rows.value.get(c.id ?? 0)?.version ?? null
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
    const row = rows.value.get(id)
    if (!row) return
    if (!held.has(id)) held.set(id, row)
    const next = new Map(rows.value)
    next.set(id, { ...row, values: { ...row.values, ...values } } as Row)
    rows.value = next
  }
  const place = (body: Omit<Schemas['PlaceAsked'], 'tab' | 'ask'>): Promise<EditDone> =>
    sent((ask) => () => api.POST('/api/projects/{project}/place', { params: at(), body: { ...body, tab, ask } }))
  const duplicate = (records: number[], dx_m: number, dy_m: number): Promise<EditDone> =>
    sent((ask) => () => api.POST('/api/projects/{project}/duplicate', { params: at(), body: { tab, records, dx_m, dy_m, ask } }))
  const undoOne = (number: number): Promise<EditDone> =>
    sent((ask) => () =>
      api.POST('/api/projects/{project}/edits/{number}/undo', {
        params: { path: { project: project.value, number } },
        body: { tab, ask },
      }),
    )
  /** Give a sound its file; one too large or of another sort is refused by the server with what to do. */
  const soundFile = (record: number, file: Blob, seconds: number | null): Promise<EditDone> =>
    sent((ask) => {
      const version = rows.value.get(record)?.version ?? 0
      return () =>
        api.POST('/api/projects/{project}/sounds/{record}/file', {
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
    for (const row of answered(result) as Row[]) {
      if (held.has(row.id)) held.set(row.id, row)
      else next.set(row.id, row)
    }
    for (const id of heard.removed) next.delete(id)
    rows.value = next
    editNumber.value = Math.max(editNumber.value, heard.edit_number)
  }

  return { project, editNumber, rows, all, byKey, settings, undoName, redoName, savedAt, refusal, pending, tab, of, find, name, open, edit, set, show, restore, place, duplicate, undoOne, soundFile, undo, redo }
})

/** The problems of an error, for showing beside the place where it happened. */
export function problemsOf(error: unknown): Problem[] {
  if (error instanceof RefusedError) return error.refusal.problems
  throw error
}

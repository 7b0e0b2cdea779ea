import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { answered, api, RefusedError, tabName, type ChangeAsked, type EditDone, type Problem, type Refusal, type Row, type RowOf, type RowType, type Schemas } from '@/api/client'

type Values = Record<string, unknown>

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
  const pending = ref(0)
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

  /** Sends an edit. A refusal is kept for the band and thrown on, so that the place of the edit can show it too. */
  async function sent(call: () => Promise<{ data?: unknown; error?: unknown; response: Response }>): Promise<EditDone> {
    pending.value += 1
    try {
      const done = answered<EditDone>((await call()) as { data?: EditDone; response: Response })
      take(done)
      return done
    } catch (error) {
      if (error instanceof RefusedError) refusal.value = error.refusal
      restore()
      throw error
    } finally {
      pending.value -= 1
    }
  }

  let queue: Promise<unknown> = Promise.resolve()
  /** Edits of a tab go out one after another, so that each is based on the answer to the last. */
  function inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = queue.then(work, work)
    queue = turn.catch(() => undefined)
    return turn
  }

  function edit(changes: Partial<ChangeAsked>[], name = '', gesture = ''): Promise<EditDone> {
    return inTurn(() => {
      const full = changes.map((c) => ({ ...BLANK, ...c, version: c.do === 'add' || !c.id ? null : (c.version ?? rows.value.get(c.id)?.version ?? null) }))
      return sent(() => api.POST('/api/projects/{project}/edits', { params: { path: { project: project.value } }, body: { tab, changes: full, name, gesture } }))
    })
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
    const row = rows.value.get(id)
    if (!row) return
    if (!held.has(id)) held.set(id, row)
    const next = new Map(rows.value)
    next.set(id, { ...row, values: { ...row.values, ...values } } as Row)
    rows.value = next
  }
  const place = (body: Omit<Schemas['PlaceAsked'], 'tab'>): Promise<EditDone> =>
    inTurn(() => sent(() => api.POST('/api/projects/{project}/place', { params: { path: { project: project.value } }, body: { ...body, tab } })))
  const duplicate = (records: number[], dx_m: number, dy_m: number): Promise<EditDone> =>
    inTurn(() => sent(() => api.POST('/api/projects/{project}/duplicate', { params: { path: { project: project.value } }, body: { tab, records, dx_m, dy_m } })))
  const undoOne = (number: number): Promise<EditDone> => inTurn(() => sent(() => api.POST('/api/projects/{project}/edits/{number}/undo', { params: { path: { project: project.value, number } }, body: { tab } })))
  /** Give a sound its file; one too large or of another sort is refused by the server with what to do. */
  const soundFile = (record: number, file: Blob, seconds: number | null): Promise<EditDone> =>
    inTurn(() => sent(() => api.POST('/api/projects/{project}/sounds/{record}/file', { params: { path: { project: project.value, record }, query: { tab, ...(seconds === null ? {} : { seconds }) } }, body: file as never, bodySerializer: (b: unknown) => b as Blob, headers: { 'Content-Type': 'application/octet-stream' } })))
  const undo = (): Promise<EditDone> => inTurn(() => sent(() => api.POST('/api/projects/{project}/undo', { params: { path: { project: project.value } }, body: { tab } })))
  const redo = (): Promise<EditDone> => inTurn(() => sent(() => api.POST('/api/projects/{project}/redo', { params: { path: { project: project.value } }, body: { tab } })))

  return { project, editNumber, rows, all, byKey, settings, undoName, redoName, savedAt, refusal, pending, tab, of, find, name, open, edit, set, show, restore, place, duplicate, undoOne, soundFile, undo, redo }
})

/** The problems of an error, for showing beside the place where it happened. */
export function problemsOf(error: unknown): Problem[] {
  if (error instanceof RefusedError) return error.refusal.problems
  throw error
}

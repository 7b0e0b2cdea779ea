<script setup lang="ts">
import { computed, ref } from 'vue'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import { useBook } from '@/stores/book'
import { useWalks, type WalkReading } from '@/stores/walks'

/** The kept walks: each says whether it still comes to its end, and where it parts ways if not. */
const props = defineProps<{ watching: string }>()
defineEmits<{ keep: []; watch: [key: string, at: number | null] }>()
const book = useBook()
const walks = useWalks()
const { quietly } = useQuietly()
const opened = ref<number | null>(null)
const open = computed(() => {
  const mine = walks.all.find((w) => w.id === opened.value)
  return mine ?? (opened.value === null ? walks.all.find((w) => walks.byId.get(w.id)?.same === false) : undefined)
})
const read = (walk: RowOf<'walk'>): WalkReading | undefined => walks.byId.get(walk.id)
const clockOf = (one: WalkReading): string => one.parting?.now?.at ?? one.parting?.was?.at ?? ''
const partsAt = (walk: RowOf<'walk'>): number | null => read(walk)?.parting?.now?.tick ?? null
function state(walk: RowOf<'walk'>): { mark: string; says: string; look: string } {
  const one = read(walk)
  const waits = { mark: '…', says: walks.reading?.going ? 'waits' : 'not walked', look: 'dusk' }
  if (!one || one.same === null || one.stale) return waits
  if (one.same) return { mark: '✓', says: 'same end', look: 'yes' }
  return { mark: '✗', says: clockOf(one) ? `parts ways at ${clockOf(one)}` : 'parts ways', look: 'glow' }
}
const counted = computed(() => {
  const found = walks.reading
  if (!found) return ''
  if (found.going) return `walking ${Math.min(found.done + 1, found.of)} of ${found.of} …`
  const known = found.walks.filter((w) => w.same !== null)
  return `${known.filter((w) => w.same).length} of ${known.length} the same`
})
function toggle(walk: RowOf<'walk'>): void {
  opened.value = open.value?.id === walk.id ? 0 : walk.id
}
function remove(walk: RowOf<'walk'>): void {
  void quietly(book.edit([{ do: 'remove', id: walk.id }], `Deleted the kept walk ${walk.values.name}`))
}
function missingWords(walk: RowOf<'walk'>): string {
  const missing = read(walk)?.missing ?? []
  const none = missing.length === walk.values.comes_to.length
  return none ? 'It comes to none of that.' : `It does not come to: ${missing.join(', ')}.`
}
function heldTo(walk: RowOf<'walk'>): string {
  return walk.values.comes_to.map((h) => h.says).join(', ')
}
</script>

<template>
  <section class="walks" aria-label="Kept walks">
    <header>
      <h2>Kept walks</h2>
      <span class="rule" />
      <span v-if="walks.all.length" class="dusk" role="status">{{ counted }}</span>
      <button v-if="walks.reading?.going" class="link" @click="quietly(walks.ask('stop'))">stop</button>
      <button v-else-if="walks.all.length" class="link" @click="quietly(walks.ask('again'))">all again</button>
      <button class="link" @click="$emit('keep')"><span class="key">K</span> keep this</button>
    </header>
    <p v-if="!walks.all.length" class="dusk">
      A walk that is kept is walked again by itself after every change, and says where it comes to something else.
    </p>
    <template v-for="walk in walks.all" :key="walk.id">
      <div class="one" :class="{ on: walk.key === props.watching }">
        <b :class="state(walk).look" aria-hidden="true">{{ state(walk).mark }}</b>
        <button class="name" :aria-expanded="open?.id === walk.id" :data-walk="walk.key" @click="toggle(walk)">
          {{ walk.values.name }}
        </button>
        <span class="gap" />
        <span :class="read(walk)?.same === false ? 'glow' : 'dusk'">{{ state(walk).says }}</span>
      </div>
      <div v-if="open?.id === walk.id" class="more">
        <p v-if="walk.values.comes_to.length">
          It {{ read(walk)?.same === false ? 'was to come' : 'comes' }} to: <b>{{ heldTo(walk) }}</b
          >.
        </p>
        <template v-if="read(walk)?.same === false">
          <p v-if="read(walk)?.parting" class="glow" data-parting>{{ read(walk)?.parting?.says }}.</p>
          <p v-if="read(walk)?.stuck">It stopped there: {{ read(walk)?.stuck }}.</p>
          <p v-if="read(walk)?.missing.length">{{ missingWords(walk) }}</p>
        </template>
        <p v-if="read(walk)?.left_out.length" class="glow">
          Left out of its beginning: {{ read(walk)?.left_out.join('; ') }}.
        </p>
        <p v-if="read(walk)?.same && read(walk)?.how === 'as meant'" class="dusk">
          Walked by what was meant: where things stand has changed since.
        </p>
        <p class="do">
          <button v-if="read(walk)?.parting" class="link" @click="$emit('watch', walk.key, partsAt(walk))">
            see both
          </button>
          <button class="link" @click="$emit('watch', walk.key, null)">watch</button>
          <button v-if="read(walk)?.same === false" class="link" @click="quietly(walks.holdToNow(walk))">
            this is right now
          </button>
          <EditWord
            text="rename"
            label="Name of the walk"
            kind="text"
            :value="walk.values.name"
            @change="(name) => quietly(book.set(walk.id, { name: name.slice(0, 100) }, `Renamed a kept walk`))"
          />
          <button class="link" @click="remove(walk)">delete</button>
        </p>
      </div>
    </template>
    <p v-for="one in walks.reading?.problems ?? []" :key="one.code" class="glow">{{ one.message }} {{ one.fix }}</p>
  </section>
</template>

<style scoped>
.walks { --page: var(--night); --ink: var(--chalk); --shade: #2a333c; --pencil: var(--dusk); margin-bottom: 18px; }
header { display: flex; align-items: baseline; gap: 10px; margin-top: 6px; font-size: 13px; white-space: nowrap; }
header h2 { font-size: 16px; white-space: nowrap; }
.rule { flex: 1; border-top: 1px solid var(--night-rule); align-self: center; }
.one { display: flex; align-items: baseline; gap: 10px; padding: 4px 8px; margin: 0 -8px; border-radius: 4px; }
.one > b { width: 12px; }
.on { background: var(--night); }
.name { min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; text-align: left; }
.name[aria-expanded='true'] { font-weight: 650; }
.gap { flex: 1; }
.more { padding: 0 0 8px 22px; }
.do { display: flex; flex-wrap: wrap; gap: 4px 14px; margin-top: 4px; }
.dusk { color: var(--dusk); white-space: nowrap; }
.glow { color: var(--glow); } .one .glow { white-space: nowrap; }
.yes { color: #8fc79a; }
.more .dusk, .walks > .dusk { white-space: normal; }
.link { border-bottom-color: #5b6670; white-space: nowrap; } .link:hover { background: var(--night); }
</style>

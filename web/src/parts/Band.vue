<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { triedAgainIn } from '@/api/connection'
import { PLACES } from '@/router'
import { useBook } from '@/stores/book'
import { useFindings } from '@/stores/findings'
import { useLive } from '@/stores/live'
import { useWalks } from '@/stores/walks'
import { found as search, type Hit } from './finding'
import PickList from './PickList.vue'
import { beadOf, cameFrom, spotOf, walkSubject, withoutWalk } from './walking'

const emit = defineEmits<{ walk: []; undo: []; redo: [] }>()
const book = useBook()
const live = useLive()
const findings = useFindings()
const walks = useWalks()
const route = useRoute()
const router = useRouter()
const finding = ref(false)
const wanted = ref('')

const saved = computed(() => {
  if (triedAgainIn.value) return book.pending ? '⚠ Not saved' : '⚠ Offline'
  if (book.pending) return 'Saving …'
  return book.savedAt ? `Saved ${book.savedAt}` : 'All saved'
})
const playing = computed(() => route.name === 'playtest')
const results = computed(() => search(book.all, wanted.value))
const subject = computed(() => walkSubject(route, book))
const walkLabel = computed(() => {
  if (playing.value) {
    const { place, selected } = cameFrom(route)
    if (place === 'proof') return 'Back to Proof'
    const line = book.find('line', selected)
    const stage = book.of('stage').find((s) => s.key === selected.split('.')[1])
    const name = line ? `“${line.values.wordings[0]}”` : (stage?.values.name ?? (selected && book.name(selected)))
    return `Back to ${name || (PLACES.find((p) => p.key === place)?.name ?? 'the plan')}`
  }
  const key = beadOf(route, book).split('.')[1] ?? (live.on ? live.reading?.stage : undefined)
  const stage = book.of('stage').find((s) => s.key === key)?.values.name ?? key
  const how = stage ? `as if ${stage.toLowerCase()}` : ''
  const where = spotOf(route) ? `from ${spotOf(route).replace(',', ', ')} m` : how ? '' : 'from the start'
  return ['Walk', subject.value ? book.name(subject.value) : where, how]
    .filter(Boolean)
    .join(' · ')
})
function to(place: string): { name: string; params: Record<string, string | string[]>; query: typeof route.query } {
  return { name: place, params: { project: route.params.project ?? '' }, query: withoutWalk(route.query) }
}
function find(): void {
  finding.value = true
  wanted.value = ''
}
function go({ place, selected }: Hit): void {
  finding.value = false
  void router.push({
    name: place,
    params: { project: route.params.project, selected },
    query: { as_if: route.query.as_if, with: route.query.with },
  })
}
defineExpose({ find })
</script>

<template>
  <header class="band">
    <router-link v-tooltip="`${book.settings?.values.name}: all projects`" to="/" class="project">{{
      book.settings?.values.name
    }}</router-link>
    <nav aria-label="Working places">
      <router-link
        v-for="place in PLACES"
        :key="place.key"
        :to="to(place.key)"
        :class="{ here: route.name === place.key }"
        >{{ place.name
        }}<span
          v-if="place.key === 'findings' && findings.total"
          class="number"
          :aria-label="`${findings.total} in all`"
          >{{ findings.total > 999 ? '999+' : findings.total }}</span
        ><span
          v-if="place.key === 'playtest' && walks.parted"
          v-tooltip="`${walks.parted} of the kept walks come to something else`"
          class="number"
          :aria-label="`${walks.parted} kept walks part ways`"
          >{{ walks.parted }}</span
        ></router-link
      >
    </nav>
    <span class="gap" />
    <button id="find" class="find-button" aria-label="Find" aria-haspopup="dialog" @click="find">
      <span class="mono">/</span> find
    </button>
    <PickList
      v-if="finding"
      v-model="wanted"
      :options="results"
      target="#find"
      label="Find objects, lines, quests, items, cues"
      placeholder="objects, quests, stages, lines, items, facts, cues"
      @pick="go"
      @close="finding = false"
    >
      <template #default="{ option }">
        <span
          ><b>{{ option.name }}</b> <span class="quiet">{{ option.what }}</span></span
        >
      </template>
      <template v-if="wanted" #none>Nothing is called that, and no cue says it.</template>
    </PickList>
    <button
      v-tooltip="book.undoName ? `Undo: ${book.undoName}` : 'Nothing to undo'"
      class="turn"
      :disabled="!book.undoName"
      aria-label="Undo"
      @click="emit('undo')"
    >
      ↶
    </button>
    <button
      v-tooltip="book.redoName ? `Redo: ${book.redoName}` : 'Nothing to redo'"
      class="turn"
      :disabled="!book.redoName"
      aria-label="Redo"
      @click="emit('redo')"
    >
      ↷
    </button>
    <span class="quiet saved" :class="{ trouble: triedAgainIn }" role="status">{{ saved }}</span>
    <v-btn
      v-tooltip="`${walkLabel} (Ctrl+Enter)`"
      class="walk"
      :class="{ back: playing }"
      rounded="pill"
      @click="emit('walk')"
      ><span class="walk-text">{{ walkLabel }}</span></v-btn
    >
  </header>
</template>

<style scoped>
.band {
  height: 44px; flex: none; display: flex; align-items: center; gap: 12px; padding: 0 16px;
  background: var(--page); border-bottom: 1px solid var(--rules); white-space: nowrap;
}
.project {
  font-family: var(--head); font-weight: 680; font-size: 16px; text-decoration: none; max-width: 190px;
  overflow: hidden; text-overflow: ellipsis; flex: 0 1 auto;
}
nav { display: flex; align-self: stretch; gap: 2px; }
nav a {
  display: flex; align-items: center; padding: 0 8px; text-decoration: none; color: var(--pencil);
  border-bottom: 3px solid transparent; border-top: 3px solid transparent;
}
nav a:hover { color: var(--ink); }
nav a.here { color: var(--ink); font-weight: 650; border-bottom-color: var(--ink); }
.number {
  margin-left: 6px; padding: 0 7px; border-radius: 9px; background: var(--amber); color: var(--page); font-size: 12px;
  line-height: 18px; font-weight: 700;
}
.gap { flex: 1; }
.find-button {
  width: 84px; height: 29px; padding: 0 10px; border: 1px solid var(--line); border-radius: 6px;
  background: var(--paper); color: var(--pencil); outline-offset: 0;
}
.find-button:focus-visible { outline: 2px solid currentColor; }
.turn { font-size: 17px; width: 22px; text-align: center; }
.turn:disabled { color: #9aa0a5; cursor: default; }
.saved { min-width: 76px; font-size: 13px; }
.walk {
  width: 220px; height: 31px !important; background: var(--ink) !important; color: var(--page) !important;
  text-transform: none; letter-spacing: 0; font-family: var(--text); font-weight: 600; font-size: 13.5px;
  flex: none;
}
.walk-text { max-width: 188px; overflow: hidden; text-overflow: ellipsis; }
.night .band { background: var(--night); border-color: var(--night-rule); color: var(--chalk); }
.night nav a, .night .quiet { color: var(--dusk); }
.night nav a.here { color: var(--chalk); border-bottom-color: var(--chalk); }
.night .find-button { background: var(--night); border-color: var(--night-rule); color: var(--dusk); }
.night .walk { background: var(--glow) !important; color: var(--night) !important; }
</style>

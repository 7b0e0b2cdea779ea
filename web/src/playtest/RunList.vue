<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { useWalks, type RunShape } from '@/stores/walks'

/** The runs that are kept by themselves: each can be gone on with, watched, laid beside this one, deleted. */
const props = defineProps<{ now: number }>()
defineEmits<{ go: [run: number]; watch: [run: number] }>()
const walks = useWalks()
const { quietly } = useQuietly()
const AT_FIRST = 5
const all = ref(false)
const others = computed(() => walks.runs.filter((r) => r.id !== props.now))
const shown = computed(() => (all.value ? others.value : others.value.slice(0, AT_FIRST)))
const opened = ref(0)
const beside = ref<Schemas['ComparedShape'] | null>(null)
function lasts(run: RunShape): string {
  const seconds = Math.floor(run.seconds)
  return `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
}
function when(run: RunShape): string {
  const at = new Date(run.begun_at)
  const today = at.toDateString() === new Date().toDateString()
  const time = at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
  return today ? time : `${at.toLocaleDateString('en-GB', { day: 'numeric', month: 'short' })} ${time}`
}
function toggle(run: RunShape): void {
  beside.value = null
  opened.value = opened.value === run.id ? 0 : run.id
}
function compare(run: RunShape): void {
  void quietly(walks.beside(run.id, props.now).then((found) => (beside.value = found)))
}
/** What a run came to is stored as it goes: what stands here is read again now and then. */
const READ_MS = 4000
useIntervalFn(() => void quietly(walks.readRuns()), READ_MS, { immediateCallback: true })
</script>

<template>
  <section class="runs" aria-label="Earlier walks">
    <header>
      <h2>Earlier walks</h2>
      <span class="rule" />
      <span v-if="others.length" class="dusk">{{
        others.length === 1 ? '1 kept by itself' : `${others.length} kept by themselves`
      }}</span>
    </header>
    <p v-if="!others.length" class="dusk">Every walk is kept with its inputs; the last fifty stand here.</p>
    <template v-for="run in shown" :key="run.id">
      <div class="one">
        <span class="mono dusk">{{ when(run) }}</span>
        <button class="name" :aria-expanded="opened === run.id" :data-run="run.id" @click="toggle(run)">
          from {{ run.begins_at || 'the start' }}
        </button>
        <span class="gap" />
        <span class="mono dusk">{{ lasts(run) }}</span>
      </div>
      <div v-if="opened === run.id" class="more">
        <p v-if="run.ended || run.last" class="dusk">{{ run.ended || `last: ${run.last}` }}</p>
        <p v-if="!run.walkable" class="dusk">
          It was walked by another version of the program, which may take its inputs otherwise.
        </p>
        <template v-if="beside">
          <p v-if="beside.parting" class="glow" data-beside>
            This walk parts ways with it at {{ beside.parting.now?.at ?? beside.parting.was?.at }}:
            {{ beside.parting.says }}.
          </p>
          <p v-else class="dusk" data-beside>Both come to the same, as far as each goes.</p>
        </template>
        <p class="do">
          <template v-if="run.walkable">
            <button class="link" @click="$emit('go', run.id)">go on with it</button>
            <button class="link" @click="$emit('watch', run.id)">watch</button>
          </template>
          <button v-if="props.now > 0" class="link" @click="compare(run)">compare with this one</button>
          <button class="link" @click="quietly(walks.forget(run.id))">delete</button>
        </p>
      </div>
    </template>
    <p v-if="shown.length < others.length">
      <button class="link" @click="all = true">{{ others.length - shown.length }} more</button>
    </p>
  </section>
</template>

<style scoped>
.runs { margin-top: 18px; }
header { display: flex; align-items: baseline; gap: 12px; font-size: 13px; }
header h2 { font-size: 16px; }
.rule { flex: 1; border-top: 1px solid var(--night-rule); align-self: center; }
.one { display: flex; align-items: baseline; gap: 10px; padding: 3px 0; }
.name { min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; text-align: left; }
.name[aria-expanded='true'] { font-weight: 650; }
.gap { flex: 1; }
.more { padding: 0 0 6px 22px; }
.do { display: flex; flex-wrap: wrap; gap: 4px 14px; }
.dusk { color: var(--dusk); } .glow { color: var(--glow); } .mono { font-size: 12.5px; white-space: nowrap; }
.link { border-bottom-color: #5b6670; white-space: nowrap; } .link:hover { background: var(--night); }
</style>

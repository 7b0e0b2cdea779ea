<script setup lang="ts">
import { computed, ref } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import { iconPath } from '@/theme/icons'
import type { Placed } from './designs'
import { byArea, type AreaGroup } from './order'
import Pennant from '@/parts/Pennant.vue'
import { counted } from '@/parts/plural'
import { saidOf, useFindings } from '@/stores/findings'

/** The running order of the level: every object by area, with what it would offer now. */
const props = defineProps<{
  level: RowOf<'level'>
  areas: readonly RowOf<'area'>[]
  objects: Placed[]
  live: Schemas['LiveReading'] | null
  /** The area each object stands in; null while that is not known yet. */
  standing: Record<string, string> | null
}>()
defineEmits<{ select: [key: string] }>()
const findings = useFindings()
const wanted = ref('')
const groups = computed<AreaGroup[]>(() => {
  const part = wanted.value.trim().toLowerCase()
  const fitting = props.objects.filter((o) => o.row.values.name.toLowerCase().includes(part))
  return byArea(props.areas, fitting, props.standing).filter((g) => !part || g.objects.length)
})

function says(one: Placed): string {
  const live = props.live?.objects[one.row.key]
  if (!live) return ''
  if (!live.exists) return 'gone'
  const prompt = live.prompts[0]
  if (!prompt) return one.row.values.round.length > 1 ? 'walks a round' : 'offers nothing now'
  return prompt.usable ? prompt.wording : `${prompt.wording}: ${prompt.reason}`
}
</script>

<template>
  <p class="small quiet">{{ counted(objects.length, 'object') }} in {{ counted(areas.length, 'area') }}</p>
  <h1>{{ level.values.name }}</h1>
  <p class="quiet intro">The running order. Choose an object here or on the plan to open its page.</p>
  <input
    v-if="objects.length > 8"
    v-model="wanted"
    class="filter"
    aria-label="Filter the running order"
    placeholder="filter"
    @keydown.stop
  />
  <p v-if="!objects.length" class="empty">
    Nothing stands here yet. Double-click the floor, or just type a few letters: <b>sw</b> for a switch, <b>do</b> for a
    door.
  </p>
  <section v-for="group in groups" :key="group.name">
    <h2>
      <button v-if="group.area" class="area" :data-area="group.area" @click="$emit('select', group.area)">
        {{ group.name }}
      </button>
      <template v-else>{{ group.name }}</template>
    </h2>
    <ul>
      <li v-for="one in group.objects" :key="one.row.id">
        <button :data-order="one.row.key" @click="$emit('select', one.row.key)">
          <svg width="17" height="17" viewBox="0 0 24 24" aria-hidden="true">
            <path :d="iconPath(one.design.icon)" fill="currentColor" />
          </svg>
          <span class="name">{{ one.row.values.name }}</span>
          <Pennant
            v-if="findings.marks.has(one.row.id)"
            v-tooltip="saidOf(findings.marks.get(one.row.id))"
            :weight="findings.marks.get(one.row.id)!.weight"
          />
          <span class="quiet small says">{{ says(one) }}</span>
        </button>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.area { font: inherit; border-bottom: 2px solid var(--line); }
.intro { margin-bottom: 4px; }
.filter {
  width: 100%; border: 0; border-bottom: 1.5px solid var(--line); background: none; font: inherit;
  outline-offset: 4px;
}
.empty { margin-top: 16px; }
h2 { margin-top: 14px; border-bottom: 1px solid var(--rules); padding-bottom: 2px; }
ul { list-style: none; margin: 0; padding: 0; }
li button { display: flex; align-items: center; gap: 8px; width: 100%; padding: 2px 4px; border-radius: 4px; }
li button:hover { background: var(--shade); }
.name { white-space: nowrap; overflow: hidden; text-overflow: ellipsis; max-width: 62%; flex: none; }
.says { margin-left: auto; text-align: right; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
svg { flex: none; }
</style>

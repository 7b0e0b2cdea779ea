<script setup lang="ts">
import { useRouter } from 'vue-router'
import { leadOf } from '@/page/leads'
import { useBook } from '@/stores/book'
import type { Way } from '@/stores/proof'

/** A way as a strip of steps: what is done, how far it is on foot, what comes of it; the last is where it leads. */
const props = defineProps<{ way: Way; weighs: boolean }>()
const book = useBook()
const router = useRouter()
const numbers = (): number[] => {
  let n = 0
  return props.way.steps.map((step) => (step.counts ? ++n : 0))
}
function go(record: number | null): void {
  const lead = record === null ? null : leadOf(book, record)
  if (lead) void router.push(lead)
}
</script>

<template>
  <ol>
    <li v-for="(step, i) in way.steps" :key="i" :class="{ last: i === way.steps.length - 1, waits: !step.counts }">
      <b class="number" :class="{ weighs }" aria-hidden="true">{{ numbers()[i] || '·' }}</b>
      <span class="what">
        <button v-if="step.record !== null" class="says" @click="go(step.record)">{{ step.says }}</button>
        <span v-else class="says">{{ step.says }}</span>
        <span v-for="(came, n) in step.then" :key="n" class="quiet small then">{{ came }}</span>
      </span>
      <span class="mono quiet small metres">{{ step.metres >= 0.5 ? `${Math.round(step.metres)} m` : '' }}</span>
    </li>
  </ol>
</template>

<style scoped>
ol { list-style: none; margin: 10px 0 0; padding: 0; }
li { position: relative; display: flex; gap: 16px; align-items: baseline; padding: 0 0 8px; }
li:not(.last)::before {
  content: ''; position: absolute; left: 12px; top: 24px; bottom: 0; border-left: 1px solid var(--line);
}
.number {
  flex: none; width: 25px; height: 23px; border: 1.5px solid var(--ink); border-radius: 12px; text-align: center;
  font: 650 12px/20px var(--mono); background: var(--page);
}
.waits .number { border-color: transparent; color: var(--pencil); }
.last:not(.waits) .number { background: var(--green); border-color: var(--green); color: var(--page); }
.last:not(.waits) .number.weighs { background: var(--amber); border-color: var(--amber); }
.what { flex: 1; min-width: 0; overflow-wrap: anywhere; line-height: 1.5; }
.says { line-height: 1.4; }
button.says { text-align: left; }
button.says:hover { background: var(--shade); }
.then { display: inline-block; margin-left: 10px; }
.metres { flex: none; }
</style>

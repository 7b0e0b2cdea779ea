<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { leadOf } from '@/page/leads'
import { counted } from '@/parts/plural'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import type { Gate } from '@/stores/proof'

/** One gate: when it opens at the soonest, by what, what it waits for, and what waits for it. */
const props = defineProps<{ gate: Gate; gates: Gate[]; from: string }>()
const emit = defineEmits<{ choose: [gate: number] }>()
const book = useBook()
const router = useRouter()
const before = computed(() => props.gate.after.map((n) => props.gates[n]).filter((g) => g !== undefined))
const after = computed(() => props.gates.filter((g) => g.after.includes(props.gate.number)))
function go(): void {
  const lead = props.gate.record === null ? null : leadOf(book, props.gate.record)
  if (lead) void router.push(lead)
}
</script>

<template>
  <p class="small quiet">what opens what · {{ gate.sort }}</p>
  <h1>{{ gate.says }}</h1>
  <p class="measure">
    {{ gate.round ? `After ${counted(gate.round, 'action')} at the soonest` : 'On foot alone' }}, by:
    <b>{{ gate.by }}</b
    >. <button v-if="gate.record !== null" class="link" @click="go">go there</button>
  </p>
  <SectionHead title="Waits for" :note="String(before.length)" remember="gate-before">
    <p v-if="!before.length" class="quiet">Nothing that is not so {{ from ? 'there already' : 'from the start' }}.</p>
    <ul>
      <li v-for="one in before" :key="one.number">
        <button class="link" @click="emit('choose', one.number)">{{ one.says }}</button>
      </li>
    </ul>
  </SectionHead>
  <SectionHead title="Waits for it" :note="String(after.length)" remember="gate-after">
    <p v-if="!after.length" class="quiet">Nothing else.</p>
    <ul>
      <li v-for="one in after" :key="one.number">
        <button class="link" @click="emit('choose', one.number)">{{ one.says }}</button>
      </li>
    </ul>
  </SectionHead>
</template>

<style scoped>
ul { list-style: none; margin: 0; padding: 0; }
li { padding: 1px 0; overflow-wrap: anywhere; }
h1 { overflow-wrap: anywhere; }
</style>

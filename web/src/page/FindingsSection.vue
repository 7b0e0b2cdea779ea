<script setup lang="ts">
import { computed } from 'vue'
import { useFindingsOf } from '@/findings/asked'
import { marked } from '@/findings/where'
import Pennant from '@/parts/Pennant.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import { useFindings } from '@/stores/findings'
import { useQuietly } from './quietly'

/** What the checks found on the page of a record, each with its mend. */
const props = defineProps<{ record: number }>()
const book = useBook()
const findings = useFindings()
const { quietly } = useQuietly()
useFindingsOf(() => props.record)
const own = computed(() => String((book.rows.get(props.record)?.values as { name?: string } | undefined)?.name ?? ''))
</script>

<template>
  <SectionHead v-if="findings.here.length" title="Findings" :note="String(findings.here.length)" remember="findings">
    <ul class="findings">
      <li v-for="one in findings.here" :key="one.key" :data-finding="one.check">
        <Pennant :weight="one.weight" />
        <span
          ><template v-if="one.whose !== own">{{ `${one.whose} ` }}</template
          >{{ marked(one.says, one.marks)[0]
          }}<span class="amiss">{{ marked(one.says, one.marks)[1] }}</span
          >{{ marked(one.says, one.marks)[2] }}.
          <button v-if="one.mend" class="link" @click="quietly(findings.mendFirst(one.key))">{{ one.mend }}</button>
          {{ one.mend ? ' · ' : '' }}<router-link
            class="link small"
            :to="{ name: 'findings', params: { selected: one.key } }"
            >what it means</router-link
          ></span
        >
      </li>
    </ul>
  </SectionHead>
</template>

<style scoped>
.findings { list-style: none; margin: 0; padding: 0; }
li { display: flex; gap: 8px; align-items: flex-start; }
li :deep(svg) { margin-top: 3px; }
</style>

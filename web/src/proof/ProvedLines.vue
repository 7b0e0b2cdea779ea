<script setup lang="ts">
import { computed } from 'vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useProof } from '@/stores/proof'
import VerdictMark from './VerdictMark.vue'
import { addressOf, answerOf, ASKED, isGood, lengthOf } from './words'

/** What is proved of a quest, on its page: each verdict leads to its own. */
const props = defineProps<{ quest: string }>()
const proof = useProof()
const verdicts = computed(() =>
  [...proof.verdicts.values()].filter((v) => v.key.split('/')[0] === props.quest && v.answer !== 'coming'),
)
const stale = computed(() => verdicts.value.some(proof.isStale))
</script>

<template>
  <SectionHead
    v-if="verdicts.length"
    title="Proved"
    :note="stale ? proof.age : proof.reading?.going ? 'being proved again' : ''"
    remember="quest-proved"
  >
    <ul :class="{ stale }">
      <li v-for="one in verdicts" :key="one.key" :data-proved="one.what">
        <VerdictMark :verdict="one" />
        <router-link class="link" :to="{ name: 'proof', params: { selected: addressOf(one.key) } }">{{
          ASKED[one.what]
        }}</router-link>
        <span :class="isGood(one) ? 'fine' : one.weight ? 'trouble' : ''">{{ answerOf(one) }}</span>
        <span v-if="proof.isStale(one)" class="quiet small">{{ proof.age }}</span>
        <span v-else-if="one.way.walked" class="quiet small">{{ lengthOf(one.way) }}</span>
      </li>
    </ul>
  </SectionHead>
</template>

<style scoped>
ul { list-style: none; margin: 0; padding: 0; }
li { display: flex; gap: 10px; align-items: center; min-height: 24px; }
.stale { font-style: italic; }
</style>

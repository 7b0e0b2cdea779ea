<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answered, api, RefusedError, type Schemas } from '@/api/client'
import BalanceMarks from '@/items/BalanceMarks.vue'
import { useBook } from '@/stores/book'
import { useTurns } from '@/stores/turns'

/** What can be had of each thing that is asked for, against how much is: those of which there is too little first. */
const book = useBook()
const { afterwards } = useTurns()
const balances = ref<Schemas['BalanceShape'][]>([])
const shown = computed(() =>
  balances.value.filter((b) => b.all_asked > 0).sort((a, b) => Number(b.too_few > 0) - Number(a.too_few > 0)),
)
const short = computed(() => shown.value.filter((b) => b.too_few > 0).length)
const name = (key: string): string => (key === 'money' ? (book.settings?.values.money_name ?? '') : book.name(key))
function words(one: Schemas['BalanceShape']): string {
  return `${one.most === null ? 'any number' : one.most} to be had, ${one.all_asked} asked for`
}
watch(
  () => book.editNumber,
  async () => {
    try {
      await afterwards()
      const params = { path: { project: book.project } }
      balances.value = answered<Schemas['BalanceShape'][]>(
        await api.GET('/api/projects/{project}/balance', { params }),
      )
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  },
  { immediate: true },
)
</script>

<template>
  <section v-if="shown.length" class="supply">
    <div class="heading">
      <h2>Supply</h2>
      <span class="rule" /><span class="quiet small">{{ short ? `${short} short` : 'enough of everything' }}</span>
    </div>
    <p v-for="one in shown" :key="one.key" :data-supply="one.key">
      <span class="name" :title="name(one.key)">{{ name(one.key) }}</span>
      <BalanceMarks :balance="one" />
      <span class="gap" />
      <span class="small" :class="one.too_few > 0 ? 'trouble' : 'quiet'">{{ words(one) }}</span>
    </p>
  </section>
</template>

<style scoped>
.heading { display: flex; align-items: baseline; gap: 10px; margin-top: 16px; }
.rule { flex: 1; border-top: 1px solid var(--rules); align-self: center; }
p { display: flex; align-items: center; gap: 14px; padding: 3px 8px; }
.name { width: 140px; flex: none; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.gap { flex: 1; }
</style>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answered, api, type RowOf, type Schemas } from '@/api/client'
import { useRoute, useRouter } from 'vue-router'
import { useQuietly } from '@/page/quietly'
import Spread from '@/parts/Spread.vue'
import { useKeys } from '@/parts/keys'
import { useBook } from '@/stores/book'
import ThingPage from './ThingPage.vue'
import { GROUPS, times, type ThingType } from './things'

const book = useBook()
const route = useRoute()
const router = useRouter()
const { quietly } = useQuietly()
const selected = computed(() => book.nowCalled(String(route.params.selected ?? '')))
const chosen = computed(() => GROUPS.map((g) => book.find(g.type, selected.value)).find(Boolean))
const known = ref(false)
const supply = ref<Record<string, Schemas['SupplyShape']>>({})

watch(
  () => book.editNumber,
  async () => {
    const found = answered<Schemas['SupplyShape'][]>(
      await api.GET('/api/projects/{project}/supply', { params: { path: { project: book.project } } }),
    )
    known.value = true
    supply.value = Object.fromEntries(found.map((s) => [s.key, s]))
  },
  { immediate: true },
)

const wanted = ref('')
/** Those whose name, shown or in cues, holds what is searched for. */
function fitting(type: ThingType): readonly RowOf<ThingType>[] {
  const typed = wanted.value.trim().toLowerCase()
  const rows: readonly RowOf<ThingType>[] = book.of(type)
  return typed ? rows.filter((r) => `${r.values.name} ${r.key}`.toLowerCase().includes(typed)) : rows
}
/** Whether nothing names it. */
const unused = (key: string): boolean => known.value && !supply.value[key]?.used
function choose(key: string): void {
  void router.push({ name: 'items', params: { ...route.params, selected: key }, query: route.query })
}
function one(type: ThingType): string {
  return GROUPS.find((g) => g.type === type)?.one ?? type
}
async function add(type: ThingType): Promise<void> {
  const made = await book.edit(
    [{ do: 'add', type, values: { name: book.freshName(type, `New ${one(type)}`) } as never }],
    `Added ${type === 'item' || type === 'ability' ? 'an' : 'a'} ${one(type)}`,
  )
  const row = made.rows[0]
  if (row) choose(row.key)
}
function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (event.key === 'n') void quietly(add('item'))
  if (event.key === 'f') void quietly(add('fact'))
}
useKeys({ down: onKey })
</script>

<template>
  <Spread>
    <template #left>
      <section class="things">
        <input v-model="wanted" class="filter" aria-label="Search items, facts and the like" placeholder="search" />
        <template v-for="group in GROUPS" :key="group.type">
          <header>
            <h2>{{ group.title }}</h2>
            <span class="rule" /><button class="link small" @click="quietly(add(group.type))">
              <span v-if="group.cap" class="key">{{ group.cap }}</span> new {{ group.one }}
            </button>
          </header>
          <v-table v-if="fitting(group.type).length">
            <tbody>
              <tr v-for="row in fitting(group.type)"
                :key="row.id"
                :class="{ chosen: row.key === selected, unused: unused(row.key) }"
              >
                <td>
                  <button :data-thing="row.key" @click="choose(row.key)">{{ row.values.name }}</button>
                </td>
                <td class="mono quiet small">{{ row.key }}</td>
                <td class="counts">{{ group.given ? `${group.given} ${times(supply[row.key]?.given ?? 0)}` : '' }}</td>
                <td class="counts">
                  {{
                    ['sound', 'tag', 'namedneed'].includes(group.type)
                      ? ''
                      : `asked for ${times(supply[row.key]?.asked ?? 0)}`
                  }}
                </td>
              </tr>
            </tbody>
          </v-table>
          <p v-else class="quiet small">{{ wanted.trim() ? 'None is called that.' : group.empty }}</p>
        </template>
      </section>
    </template>
    <ThingPage v-if="chosen" :key="chosen.id" :thing="chosen" />
    <div v-else class="quiet">
      <h1>Nothing chosen</h1>
      <p>Choose an item or a fact to see where it comes from and what asks for it.</p>
    </div>
  </Spread>
</template>

<style scoped>
.things { flex: 1; overflow: auto; padding: 16px 24px 30px; }
header { display: flex; align-items: baseline; gap: 10px; margin-top: 16px; }
.rule { flex: 1; border-top: 1px solid var(--rules); align-self: center; }
:deep(table) { table-layout: fixed; }
td:first-child { width: 36%; } td:nth-child(2) { width: 26%; overflow: hidden; text-overflow: ellipsis; }
tr.chosen td:first-child { box-shadow: inset 3px 0 var(--ink); font-weight: 650; background: var(--page); }
.filter {
  width: 100%; border: 0; border-bottom: 1.5px solid var(--line); background: none; font: inherit; padding: 2px;
}
tr.unused td:first-child { font-style: italic; }
tr.unused td:first-child::after { content: 'unused'; margin-left: 8px; font-size: 12px; color: var(--pencil); }
.counts { white-space: nowrap; color: var(--pencil); font-size: 13px; }
</style>

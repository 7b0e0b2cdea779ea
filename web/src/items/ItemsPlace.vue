<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answered, api, type RowOf, type Schemas } from '@/api/client'
import { useRoute, useRouter } from 'vue-router'
import { leadOf } from '@/page/leads'
import { useQuietly } from '@/page/quietly'
import Spread from '@/parts/Spread.vue'
import { useKeys } from '@/parts/keys'
import { useBook } from '@/stores/book'
import BalanceMarks from './BalanceMarks.vue'
import ItemSign from './ItemSign.vue'
import ThingPage from './ThingPage.vue'
import ThingRow from './ThingRow.vue'
import { GROUPS, times, type Note, type ThingType } from './things'

const book = useBook()
const route = useRoute()
const router = useRouter()
const { quietly } = useQuietly()
const selected = computed(() => book.nowCalled(String(route.params.selected ?? '')))
const chosen = computed(() => GROUPS.map((g) => book.find(g.type, selected.value)).find(Boolean))
const known = ref(false)
const balances = ref<Record<string, Schemas['BalanceShape']>>({})
const tracked = ref<Schemas['TrackedShape'][]>([])
const supply = ref<Record<string, Schemas['SupplyShape']>>({})

/** Asked for together after each edit; an answer that comes when a newer edit has been made is let go. */
async function weigh(edit: number): Promise<void> {
  const params = { path: { project: book.project } }
  const [used, weighed, counted] = await Promise.all([
    api.GET('/api/projects/{project}/supply', { params }),
    api.GET('/api/projects/{project}/balance', { params }),
    api.GET('/api/projects/{project}/tracked', { params }),
  ])
  if (edit !== book.editNumber) return
  const byKey = <T extends { key: string }>(all: T[]): Record<string, T> =>
    Object.fromEntries(all.map((one) => [one.key, one]))
  supply.value = byKey(answered<Schemas['SupplyShape'][]>(used))
  balances.value = byKey(answered<Schemas['BalanceShape'][]>(weighed))
  tracked.value = answered<Schemas['TrackedShape'][]>(counted)
  known.value = true
}
watch(() => book.editNumber, weigh, { immediate: true })

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
  const values = { name: book.freshName(type, `New ${one(type)}`) }
  const made = await book.edit(
    [{ do: 'add', type, values: values as never }],
    `Added ${type === 'item' || type === 'ability' ? 'an' : 'a'} ${one(type)}`,
  )
  const row = made.rows[0]
  if (row) choose(row.key)
}
/** What a row says at its end: what is amiss about it, else who asks for it, or how often. */
function noteOf(type: ThingType, key: string): Note {
  const { given = 0, asked = 0 } = supply.value[key] ?? {}
  const weighed = type === 'item' ? balances.value[key] : undefined
  if (weighed?.too_few) return { words: `▲ ${weighed.too_few} too few`, amber: true }
  if (unused(key)) return { words: 'unused' }
  if (weighed) {
    const quests = Object.keys(weighed.asked).map((quest) => book.name(quest))
    if (quests.length) return { words: quests.join(', ') }
    if (weighed.most === null) return { words: 'without end' }
    return { words: asked ? `asked for ${times(asked)}` : 'asked for nowhere' }
  }
  if (!known.value || ['tag', 'namedneed'].includes(type)) return { words: '' }
  const verb = GROUPS.find((g) => g.type === type)?.given ?? ''
  if (type === 'sound') return { words: `${verb} ${times(given)}` }
  if (type === 'fact' && !asked) return { words: '▲ asked nowhere', amber: true }
  if (type === 'fact' && !given) return { words: '▲ never set', amber: true }
  const gear = type === 'ability' ? book.find('ability', key)?.values.gear : ''
  if (gear && !given) return { words: `with ${book.name(gear)} in hand` }
  return { words: `${verb} ${times(given)} · asked for ${times(asked)}` }
}
const money = computed(() => {
  const [name, balance] = [book.settings?.values.money_name ?? '', balances.value.money]
  if (!balance || !name.toLowerCase().includes(wanted.value.trim().toLowerCase())) return null
  const lacking = balance.too_few > 0
  const words = lacking ? `▲ ${balance.too_few} too few` : balance.most === null ? 'without end' : ''
  return { name, balance, note: { words, amber: lacking } }
})
const counts = computed(() =>
  tracked.value.filter((t) =>
    `${t.name} ${t.verb} ${t.key}`.toLowerCase().includes(wanted.value.trim().toLowerCase()),
  ),
)
const leadOfKey = (key: string): ReturnType<typeof leadOf> => leadOf(book, book.byKey.get(key)?.id ?? 0)
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
        <p class="quiet small legend">filled: can be had · framed: asked for</p>
        <template v-for="group in GROUPS" :key="group.type">
          <header>
            <h2>{{ group.title }}</h2>
            <span class="rule" /><button class="link small" @click="quietly(add(group.type))">
              <span v-if="group.cap" class="key">{{ group.cap }}</span> new {{ group.one }}
            </button>
          </header>
          <v-table v-if="fitting(group.type).length">
            <tbody>
              <ThingRow
                v-for="row in fitting(group.type)"
                :key="row.id"
                :row="row"
                :chosen="row.key === selected"
                :unused="unused(row.key)"
                :balance="balances[row.key]"
                :note="noteOf(group.type, row.key)"
                @choose="choose(row.key)"
              />
              <tr v-if="group.type === 'item' && money" data-row="money">
                <td class="sign"><ItemSign icon="money" picture="" :size="20" /></td>
                <td class="name">{{ money.name }}</td>
                <td class="drawn"><BalanceMarks :balance="money.balance" /></td>
                <td class="values quiet">the money</td>
                <td class="note" :class="{ amber: money.note.amber }">{{ money.note.words }}</td>
              </tr>
            </tbody>
          </v-table>
          <p v-else class="quiet small">{{ wanted.trim() ? 'None is called that.' : group.empty }}</p>
        </template>
        <header>
          <h2>Tracked counts</h2>
          <span class="rule" />
        </header>
        <v-table v-if="counts.length">
          <tbody>
            <tr v-for="one in counts" :key="`${one.verb} ${one.key}`" :data-tracked="`${one.verb} ${one.key}`">
              <td class="name">
                <router-link v-if="leadOfKey(one.key)" class="link" :to="leadOfKey(one.key)!">{{
                  one.name
                }}</router-link>
                <template v-else>{{ one.name }}</template>
                {{ one.verb }}
              </td>
              <td class="values">
                <span v-for="(asks, i) in one.asked" :key="i"
                  >{{ i ? '; ' : ''
                  }}<router-link v-if="leadOf(book, asks.record)" class="link" :to="leadOf(book, asks.record)!">{{
                    asks.place
                  }}</router-link>
                  {{ asks.says }}</span
                >
              </td>
              <td class="note">counted to {{ one.most + 1 }}</td>
            </tr>
          </tbody>
        </v-table>
        <p v-else class="quiet small">
          {{ wanted.trim() ? 'None is called that.' : 'Nothing is counted: no need asks how often.' }}
        </p>
      </section>
    </template>
    <ThingPage v-if="chosen" :key="chosen.id" :thing="chosen" :balance="balances[chosen.key]" />
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
:deep(td.sign) { width: 38px; color: var(--ink); }
:deep(td.name) { width: 30%; overflow-wrap: anywhere; }
:deep(td.drawn) { width: 27%; }
:deep(td.values) { font-size: 13.5px; }
:deep(td.note) { width: 31%; text-align: right; color: var(--pencil); font-size: 13px; }
:deep(td.drawn ~ td.note) { width: 22%; }
:deep(td.note.amber) { color: var(--amber); font-weight: 600; }
.legend { margin: 12px 0 0; }
.filter {
  width: 100%; border: 0; border-bottom: 1.5px solid var(--line); background: none; font: inherit; padding: 2px;
}
</style>

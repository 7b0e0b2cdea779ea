<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import Spread from '@/parts/Spread.vue'
import EditWord from '@/parts/EditWord.vue'
import Pennant from '@/parts/Pennant.vue'
import type { Choice } from '@/parts/choices'
import { useKeys } from '@/parts/keys'
import { useBook } from '@/stores/book'
import { useFindings, type Finding } from '@/stores/findings'
import { useFindingList, type Filters } from './asked'
import FindingPage from './FindingPage.vue'
import { marked, whereOf } from './where'

/** Everything that the checks found, by weight; the one chosen beside it. */
const book = useBook()
const findings = useFindings()
const route = useRoute()
const router = useRouter()
const page = ref<InstanceType<typeof FindingPage> | null>(null)
const WEIGHTS: { weight: Finding['weight']; title: string }[] = [
  { weight: 'stops it', title: 'Stops it' },
  { weight: 'likely wrong', title: 'Likely wrong' },
  { weight: 'worth a look', title: 'Worth a look' },
]
const NUMBERS = 'No One Two Three Four Five Six Seven Eight Nine Ten Eleven Twelve'.split(' ')

const selected = computed(() => String(route.params.selected ?? ''))
const filters = computed<Filters>(() => ({
  check: String(route.query.check ?? ''),
  level: String(route.query.level_of ?? ''),
  quest: String(route.query.quest ?? ''),
  words: String(route.query.words ?? ''),
  aside: route.query.aside === '1',
  page: Number(route.query.page ?? 0),
}))
const { list } = useFindingList(() => filters.value)
const shown = computed(() => list.value?.findings ?? [])
const groups = computed(() =>
  WEIGHTS.map((one) => ({ ...one, findings: shown.value.filter((f) => f.weight === one.weight) })).filter(
    (one) => one.findings.length,
  ),
)
function numberOf(group: { weight: string; findings: Finding[] }): string {
  const here = filtered.value || filters.value.aside
  return (here ? group.findings.length : (list.value?.weights[group.weight] ?? 0)).toLocaleString('en-GB')
}
const filtered = computed(() => (['check', 'level', 'quest', 'words'] as const).some((f) => filters.value[f]))
const title = computed(() => {
  const n = filters.value.aside ? (list.value?.aside ?? 0) : findings.total
  const counted = `${NUMBERS[n] ?? n.toLocaleString('en-GB')} ${n === 1 ? 'finding' : 'findings'}`
  return filters.value.aside ? `${counted} right as ${n === 1 ? 'it is' : 'they are'}` : counted
})
/** Which edit is spoken of. */
const asOf = computed(() => {
  const behind = book.editNumber - findings.editNumber
  if (!findings.heard) return 'asking the checks …'
  if (behind > 0) return `as of ${behind === 1 ? 'the edit before your last' : `${behind} edits ago`}, catching up …`
  return findings.whole ? 'as of your last edit' : 'as of your last edit; what needs the rules follows …'
})
const checkChoices = (): Choice[] => [
  { value: '', label: 'every check' },
  ...(list.value?.checks ?? []).map((c) => ({ value: c.name, label: `${c.title} (${c.count})` })),
]
const named = (type: 'level' | 'quest', all: string): Choice[] => [
  { value: '', label: all },
  ...book.of(type).map((r) => ({ value: r.key, label: r.values.name })),
]
const checkName = computed(
  () => list.value?.checks.find((c) => c.name === filters.value.check)?.title ?? filters.value.check,
)
const NO_FILTERS = { check: undefined, level_of: undefined, quest: undefined, words: undefined }
function ask(change: Record<string, string | undefined>): void {
  const query = { ...route.query, page: undefined, ...change }
  void router.replace({ name: 'findings', params: route.params, query })
}
function choose(key: string): void {
  void router.replace({ name: 'findings', params: { ...route.params, selected: key }, query: route.query })
}
/** The one so many further on; at the end of a page the next page follows. */
function step(by: number): void {
  const at = shown.value.findIndex((f) => f.key === selected.value)
  const next = shown.value[at < 0 ? (by > 0 ? 0 : shown.value.length - 1) : at + by]
  if (next) choose(next.key)
  else if (at >= 0 && filters.value.page + by >= 0 && filters.value.page + by < (list.value?.pages ?? 0))
    ask({ page: String(filters.value.page + by) })
}
/** What was next when one was put right is chosen once that is gone. */
let following = ''
function done(): void {
  const at = shown.value.findIndex((f) => f.key === selected.value)
  following = (shown.value[at + 1] ?? shown.value[at - 1])?.key ?? ''
}
watch(shown, (now) => {
  const left = selected.value && !now.some((f) => f.key === selected.value)
  if (left && following && now.some((f) => f.key === following)) choose(following)
  if (left) following = ''
})
watch(selected, async (key) => {
  await nextTick()
  document.querySelector(`[data-key="${key}"]`)?.scrollIntoView({ block: 'nearest' })
})
function go(): void {
  const one = shown.value.find((f) => f.key === selected.value)
  if (one) void router.push(whereOf(book, one))
}
const KEYS: Record<string, () => void> = {
  j: () => step(1),
  k: () => step(-1),
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  g: go,
  Enter: () => page.value?.doFirst(),
}
useKeys({
  down: (event) => {
    const does = event.ctrlKey || event.altKey || event.metaKey ? undefined : KEYS[event.key]
    if (!does || (event.key === 'Enter' && event.target instanceof HTMLButtonElement)) return
    event.preventDefault()
    does()
  },
})
</script>

<template>
  <Spread>
    <template #left>
      <section class="findings">
        <header>
          <h1>{{ title }}</h1>
          <span class="quiet small" role="status">{{ asOf }}</span>
        </header>
        <p class="filters small">
          <span
            >by
            <EditWord
              :text="filters.check ? checkName : 'every check'"
              label="check"
              kind="choice"
              :choices="checkChoices"
              @change="(v) => ask({ check: v || undefined })"
          /></span>
          <span
            >in
            <EditWord
              :text="filters.level ? book.name(filters.level) : 'every level'"
              label="level"
              kind="choice"
              :choices="() => named('level', 'every level')"
              @change="(v) => ask({ level_of: v || undefined })"
          /></span>
          <span
            >of
            <EditWord
              :text="filters.quest ? book.name(filters.quest) : 'every quest'"
              label="quest"
              kind="choice"
              :choices="() => named('quest', 'every quest')"
              @change="(v) => ask({ quest: v || undefined })"
          /></span>
          <input
            :value="filters.words"
            aria-label="Filter by words"
            placeholder="words"
            @input="(e) => ask({ words: (e.target as HTMLInputElement).value || undefined })"
            @keydown.stop
          />
          <span class="gap" />
          <button
            v-if="list?.aside || filters.aside"
            class="link"
            @click="ask({ aside: filters.aside ? undefined : '1' })"
          >
            {{ filters.aside ? 'back to what is amiss' : `right as it is: ${list?.aside} hidden` }}
          </button>
        </p>
        <ul v-if="list?.problems.length || list?.failed.length" class="faults">
          <li v-for="one in list?.failed ?? []" :key="one.check" class="trouble small">
            The check <b>{{ one.check }}</b> could not be asked, which is a fault of ours ({{ one.what }}). All others
            were.
          </li>
          <li v-for="(one, i) in list?.problems ?? []" :key="i" class="trouble small">
            {{ one.message }} {{ one.fix }}
          </li>
        </ul>
        <section v-for="group in groups" :key="group.weight">
          <div class="weight">
            <h2>{{ group.title }}</h2>
            <span class="rule" /><span class="quiet small">{{ numberOf(group) }}</span>
          </div>
          <ul>
            <li
              v-for="one in group.findings"
              :key="one.key"
              :class="{ chosen: one.key === selected }"
              :data-key="one.key"
              :data-finding="one.check"
            >
              <Pennant :weight="one.weight" />
              <button class="whole" :aria-pressed="one.key === selected" @click="choose(one.key)">
                <b :title="one.whose">{{ one.whose }}</b>
                <span
                  >{{ marked(one.says, one.marks)[0] }}<span class="amiss">{{ marked(one.says, one.marks)[1] }}</span
                  >{{ marked(one.says, one.marks)[2]
                  }}<i v-if="one.reason !== null" class="quiet"> — right, because {{ one.reason }}</i></span
                >
              </button>
              <span class="small label">{{ one.reason === null ? one.mend || 'see it' : '' }}</span>
            </li>
          </ul>
        </section>
        <p v-if="list && list.pages > 1" class="pages small">
          <button class="link" :disabled="filters.page === 0" @click="ask({ page: String(filters.page - 1) })">
            the hundred before
          </button>
          {{ filters.page * 100 + 1 }}–{{ filters.page * 100 + shown.length }} of
          {{ list.matching.toLocaleString('en-GB') }}
          <button
            class="link"
            :disabled="filters.page + 1 >= list.pages"
            @click="ask({ page: String(filters.page + 1) })"
          >
            the next hundred
          </button>
        </p>
        <p v-if="list && !shown.length && findings.heard" class="empty">
          <template v-if="filtered"
            >Nothing that was found fits.
            <button class="link" @click="ask(NO_FILTERS)">Show everything</button></template
          >
          <template v-else-if="filters.aside">Nothing is put aside.</template>
          <template v-else
            >Nothing is amiss, as far as can be told before anybody plays. The checks go on asking after every
            edit.</template
          >
        </p>
      </section>
    </template>
    <FindingPage
      v-if="selected"
      ref="page"
      :chosen="selected"
      :total="findings.total"
      listed
      @go="go"
      @choose="choose"
      @done="done"
    />
    <div v-else class="quiet">
      <h1>{{ findings.total ? 'No finding chosen' : 'All quiet' }}</h1>
      <p v-if="findings.total">
        Choose one on the left, or press <span class="key">J</span>, to see what it means, where it stands and what
        would put it right.
      </p>
      <p v-else>
        What is not filled in, points to nothing, can never be, sounds like nothing or overlaps is said here as soon as
        it is written.
      </p>
    </div>
  </Spread>
</template>

<style scoped>
.findings { flex: 1; overflow: auto; padding: 18px 22px 30px 28px; }
header { display: flex; align-items: baseline; gap: 14px; }
.filters { display: flex; flex-wrap: wrap; align-items: baseline; gap: 4px 16px; margin-top: 4px; }
.filters input {
  width: 110px; font: inherit; border: 0; border-bottom: 1.5px solid var(--line); background: none; outline-offset: 3px;
}
.gap { flex: 1; }
.weight { display: flex; align-items: baseline; gap: 10px; margin-top: 14px; }
.rule { flex: 1; border-top: 1px solid var(--ink); align-self: center; }
ul { list-style: none; margin: 0; padding: 0; }
.faults { margin-top: 8px; }
li[data-key] {
  display: flex; gap: 12px; align-items: flex-start; padding: 6px 8px; border-bottom: 1px solid var(--rules);
  border-left: 3px solid transparent;
}
li[data-key] :deep(svg) { margin-top: 3px; }
li.chosen { background: var(--page); border-left-color: var(--ink); }
.whole { flex: 1; display: grid; grid-template-columns: 150px 1fr; gap: 12px; line-height: 1.45; min-width: 0; }
.whole b, .whole span { overflow-wrap: anywhere; }
.whole b { display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 3; overflow: hidden; }
.label { color: var(--pencil); white-space: nowrap; }
.pages { display: flex; gap: 14px; margin-top: 14px; }
.pages .link:disabled { color: #9aa0a5; cursor: default; border-color: transparent; }
.empty { max-width: 52ch; margin-top: 24px; }
</style>

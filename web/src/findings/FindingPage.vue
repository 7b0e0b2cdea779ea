<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Problem, Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import Pennant from '@/parts/Pennant.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { problemsOf, useBook } from '@/stores/book'
import { useFindings, type Mend } from '@/stores/findings'

/** One finding: what it means, where it stands, what mends it, or why it is right as it is. */
const props = defineProps<{ chosen: string; total: number; listed: boolean }>()
const emit = defineEmits<{ go: []; choose: [key: string]; done: [] }>()
const book = useBook()
const findings = useFindings()
const { quietly } = useQuietly()
const one = ref<Schemas['FindingDetail'] | null>(null)
const gone = ref(false)
const wrong = ref<Problem[]>([])
let latest = 0

watch(
  [() => props.chosen, () => findings.heard],
  async ([key]) => {
    const mine = ++latest
    try {
      const found = await findings.detail(key)
      if (mine !== latest) return
      one.value = found
      gone.value = !found
      wrong.value = []
    } catch (error) {
      wrong.value = problemsOf(error)
    }
  },
  { immediate: true },
)
async function doIt(mend: Mend): Promise<void> {
  if (await quietly(findings.mend(mend))) emit('done')
}
async function doAll(mend: Mend): Promise<void> {
  if (one.value && (await quietly(findings.mendAll(one.value.finding.check, mend.label)))) emit('done')
}
/** Put aside, with the reason; a reason is always given. */
async function leave(reason: string): Promise<void> {
  if (!one.value || !reason.trim()) return
  const { whose, says } = one.value.finding
  const values = { ...one.value.aside, reason: reason.trim() } as never
  const name = `Right as it is: ${whose} ${says}`.slice(0, 290)
  if (await quietly(book.edit([{ do: 'add', type: 'aside', values }], name))) emit('done')
}
async function bringBack(): Promise<void> {
  const id = one.value?.aside_record
  if (id && (await quietly(book.edit([{ do: 'remove', id }], 'Brought a finding back')))) emit('done')
}
defineExpose({ doFirst: () => one.value?.mends[0] && void doIt(one.value.mends[0]) })
</script>

<template>
  <Problems v-if="wrong.length" :problems="wrong" />
  <template v-else-if="one">
    <p class="small quiet">
      {{ one.finding.reason === null ? `Finding ${one.number} of ${total}` : 'Right as it is' }} ·
      {{ one.finding.weight }} · {{ one.need }}
    </p>
    <h1 class="title"><Pennant :weight="one.finding.weight" />{{ one.finding.title }}</h1>
    <p class="measure sentence">
      <b>{{ one.finding.whose }}</b> {{ one.finding.says }}.
    </p>
    <p class="measure quiet">{{ one.means }}</p>
    <SectionHead v-if="one.standing.length" title="Where it stands" :note="one.finding.whose" remember="finding-where">
      <p v-for="(line, i) in one.standing" :key="i" class="stands">
        <span v-for="(piece, n) in line" :key="n" :class="{ amiss: piece.marked }">{{ piece.text }}</span>
      </p>
    </SectionHead>
    <SectionHead
      v-if="one.finding.reason === null"
      title="Put it right"
      :note="one.mends.length ? 'one edit, can be undone' : ''"
      remember="finding-mend"
    >
      <div v-for="(mend, i) in one.mends" :key="i" class="mend" :data-mend="mend.label">
        <p class="measure">{{ i ? 'Or: ' : '' }}{{ mend.says }}</p>
        <table v-if="mend.lines.some((l) => l.before || l.after)" class="written small">
          <tbody>
            <tr v-for="(line, n) in mend.lines" :key="n">
              <td class="quiet">{{ line.where }}</td>
              <td>
                <span v-if="line.before" class="before">{{ line.before }}</span>
                <span v-if="line.before && line.after" class="quiet" aria-label="becomes"> → </span>
                <span v-if="line.after" class="after">{{ line.after }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p class="acts">
          <v-btn class="do" :class="{ second: i > 0 }" rounded="pill" @click="doIt(mend)">Do it</v-btn>
          <v-btn v-if="mend.alike > 1" class="do second" rounded="pill" @click="doAll(mend)"
            >Do it for {{ mend.together < mend.alike ? `${mend.together} of the ` : 'all ' }}{{
              mend.alike.toLocaleString('en-GB')
            }} like it</v-btn
          >
        </p>
      </div>
      <p v-if="!one.mends.length" class="quiet">
        Only you can tell what was meant here. <button class="link" @click="emit('go')">Go there</button>
      </p>
    </SectionHead>
    <SectionHead title="Or leave it" remember="finding-leave">
      <p v-if="one.finding.reason !== null">
        Right as it is because {{ one.finding.reason }}
        <button class="link" @click="bringBack">bring it back</button>
      </p>
      <template v-else>
        <p>Right as it is because <EditWord text="…" label="reason" kind="text" value="" @change="leave" /></p>
        <p class="small quiet">It stays hidden until what it rests on changes.</p>
      </template>
    </SectionHead>
    <SectionHead v-if="one.others.length" title="Others here" :note="one.finding.whose" remember="finding-others">
      <ul>
        <li v-for="other in one.others" :key="other.key">
          <Pennant :weight="other.weight" />
          <button class="link" @click="emit('choose', other.key)">{{ other.whose }} {{ other.says }}</button>
        </li>
      </ul>
    </SectionHead>
  </template>
  <div v-else-if="gone" class="quiet">
    <h1>That is put right</h1>
    <p>The finding is there no longer. Choose another on the left.</p>
  </div>
  <p class="keys small quiet">
    <span><span class="key">J</span> next</span> <span><span class="key">K</span> one back</span>
    <span v-if="listed"><span class="key">Enter</span> do it</span>
    <span v-if="listed"><span class="key">G</span> go there</span>
    <span>anywhere: <span class="key">Alt J</span> <span class="key">Alt K</span></span>
  </p>
</template>

<style scoped>
.title { display: flex; gap: 10px; align-items: center; }
.sentence { font-size: 16px; margin: 4px 0; overflow-wrap: anywhere; }
.stands { border-left: 3px solid var(--rules); padding-left: 14px; overflow-wrap: anywhere; }
.mend + .mend { margin-top: 14px; border-top: 1px dotted var(--rules); padding-top: 10px; }
.written { border-collapse: collapse; margin: 4px 0; }
.written td { padding: 2px 14px 2px 0; vertical-align: top; overflow-wrap: anywhere; }
.written td:first-child { white-space: nowrap; max-width: 220px; overflow: hidden; text-overflow: ellipsis; }
.before { text-decoration: line-through; text-decoration-color: var(--line); }
.after { background: #e9f0e4; padding: 0 4px; border-radius: 3px; }
.acts { display: flex; flex-wrap: wrap; gap: 10px; margin-top: 6px; }
.do {
  background: var(--ink) !important; color: var(--page) !important; text-transform: none; letter-spacing: 0;
  font: 600 13.5px var(--text); height: 32px !important; padding: 0 16px;
}
.do.second { background: var(--page) !important; color: var(--ink) !important; border: 1.5px solid var(--ink); }
ul { list-style: none; margin: 0; padding: 0; }
li { display: flex; gap: 8px; align-items: center; }
.keys { display: flex; flex-wrap: wrap; gap: 4px 18px; margin-top: 26px; }
</style>

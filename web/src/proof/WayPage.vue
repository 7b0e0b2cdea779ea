<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useQuietly } from '@/page/quietly'
import SectionHead from '@/parts/SectionHead.vue'
import { useProof, type Remark, type Verdict, type Way, type WayOut } from '@/stores/proof'
import WaySteps from './WaySteps.vue'
import { addressOf, ASKED, meaningOf, titleOf, undecidedBecause } from './words'

/** One verdict of a quest, or one thing that came out around them: what it means, the way there, and the ways out. */
const props = defineProps<{ quest?: string; verdict?: Verdict; remark?: Remark }>()
const proof = useProof()
const router = useRouter()
const { quietly } = useQuietly()
const said = ref('')
const one = computed(() => props.verdict ?? props.remark)
const way = computed<Way | undefined>(() => one.value?.way)
const stale = computed(() => (props.verdict ? proof.isStale(props.verdict) : proof.remarksStale))
const above = computed(() =>
  (props.verdict ? [props.quest, ASKED[props.verdict.what]] : [props.remark?.whose, 'around the quests'])
    .filter(Boolean)
    .join(' · '),
)
const title = computed(() =>
  props.verdict ? titleOf(props.verdict, props.quest ?? '') : `${props.remark?.whose} ${props.remark?.says}`,
)
const meaning = computed(() => {
  if (props.verdict) return meaningOf(props.verdict)
  const { sort, answer, because } = props.remark!
  if (answer === 'undecided') return undecidedBecause(because)
  if (stale.value) return 'So it was then. Whether it still is, and what mends it, is told when it is proved again.'
  return {
    never: 'No way to play leads to it. It can be taken out, or something has to lead there.',
    missed: 'After these it is out of reach for good, while the level goes on.',
    order: 'There is no way to play in which it comes the other way round.',
    any_order: 'Of each two of their stages ways were walked that come to either one first.',
    wall: 'Somebody in the next room is within reach. The way there was walked by the game itself.',
    early: 'That may be meant so; what is worked early is not there to be worked later unless it can be again.',
  }[sort]
})
const name = computed(() => {
  const named = props.verdict ? `${props.quest}: ${ASKED[props.verdict.what]}` : title.value
  return named.slice(0, 90)
})
const weighs = computed(() => (props.verdict ? props.verdict.what !== 'can' : true))
const outs = computed<WayOut[] | null>(() => props.verdict?.ways_out ?? null)
const looking = computed(() => props.verdict?.weight && outs.value === null && proof.reading?.going)

watch([() => props.verdict?.key, () => props.remark?.key], () => (said.value = ''))
const from = (): string => `proof/${addressOf(one.value?.key ?? '')}`
function watchIt(): void {
  void router.push({
    name: 'playtest',
    params: { selected: '' },
    query: { way: one.value?.key, from: from(), leaf: 'chronicle' },
  })
}
/** Keeps where the way ends as a start card, and begins a walk there. */
async function startAtEnd(): Promise<void> {
  const key = one.value?.key ?? ''
  await quietly(
    proof.keepEnd(key, `After: ${name.value}`).then((card) => {
      const query = { card: card?.key, from: from() }
      if (card) void router.push({ name: 'playtest', params: { selected: '' }, query })
    }),
  )
}
async function keep(): Promise<void> {
  await quietly(
    proof.keepWalk(one.value?.key ?? '', name.value).then((walk) => {
      if (walk) said.value = `Kept as the walk “${walk.values.name}”: it is walked again after every change.`
    }),
  )
}
async function doIt(out: WayOut): Promise<void> {
  if (await quietly(proof.doIt(out))) said.value = 'Done, as one edit that can be undone. It is proved again.'
}
defineExpose({ watchIt })
</script>

<template>
  <p class="small quiet">{{ above }}</p>
  <h1>{{ title }}</h1>
  <p v-if="stale" class="trouble small">⚠ This speaks of the project as it was {{ proof.age }}.</p>
  <p class="measure">{{ meaning }}</p>
  <p v-if="way?.walked" class="acts">
    <v-btn class="do" rounded="pill" @click="watchIt">Watch it</v-btn>
    <v-btn class="do second" rounded="pill" @click="startAtEnd">Start at the end</v-btn>
    <v-btn class="do second" rounded="pill" @click="keep">Keep as a walk</v-btn>
  </p>
  <p class="small fine" role="status">{{ said }}</p>
  <template v-if="way?.steps.length">
    <p v-if="!way.walked" class="small quiet">The way that was thought of, which could not be walked to its end:</p>
    <WaySteps :way="way" :weighs="weighs" />
  </template>
  <SectionHead v-if="verdict?.weight && !stale" title="Ways out" note="each proved" remember="proof-ways-out">
    <p v-if="looking" class="quiet" role="status">Ways out are being looked for …</p>
    <p v-else-if="!outs" class="quiet">They are looked for when the project is proved again.</p>
    <p v-else-if="!outs.length" class="quiet measure">
      No small mend was found that takes this away and makes no other verdict worse.
    </p>
    <div v-for="(out, i) in outs ?? []" :key="i" class="out" :data-out="out.label">
      <p class="measure">{{ out.says }}</p>
      <p v-for="(line, n) in out.lines" :key="n" class="small written">
        <span class="quiet">{{ line.where }}</span>
        <span v-if="line.before" class="before">{{ line.before }}</span>
        <span v-if="line.after" class="after">{{ line.after }}</span>
      </p>
      <button v-if="out.changes.length" class="link" @click="doIt(out)">do it</button>
      <span v-else class="small quiet">found for the project as it was; it is proved again</span>
    </div>
  </SectionHead>
</template>

<style scoped>
.acts { display: flex; flex-wrap: wrap; gap: 10px; margin: 12px 0 4px; }
.do {
  background: var(--ink) !important; color: var(--page) !important; text-transform: none; letter-spacing: 0;
  font: 600 13.5px var(--text); height: 32px !important; padding: 0 16px;
}
.do.second { background: var(--page) !important; color: var(--ink) !important; border: 1.5px solid var(--ink); }
h1 { overflow-wrap: anywhere; }
.out { padding: 6px 0 8px; }
.out + .out { border-top: 1px dotted var(--rules); }
.written { margin: 2px 0; line-height: 1.55; overflow-wrap: anywhere; }
.written .quiet { margin-right: 8px; }
.before { text-decoration: line-through; text-decoration-color: var(--line); margin-right: 8px; }
.after { background: #e9f0e4; padding: 0 4px; border-radius: 3px; box-decoration-break: clone; }
</style>

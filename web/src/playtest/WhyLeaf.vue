<script setup lang="ts">
import EditWord from '@/parts/EditWord.vue'
import type { Choice } from '@/parts/choices'
import type { Why } from './connection'
import NeedTree from './NeedTree.vue'

/** Why not: every condition of something with its value now, down to the one that stops it. */
defineProps<{ why: Why | null; subject: string; pinned: boolean; choices: () => Choice[] }>()
const emit = defineEmits<{ ask: [key: string]; free: []; jump: [entry: number] }>()
const ask = (key: string): void => emit('ask', key)
const jump = (entry: number): void => emit('jump', entry)
</script>

<template>
  <section class="why" aria-label="Why">
    <template v-if="why && subject">
      <h1>{{ why.name }}</h1>
      <p v-if="why.stopped_by" class="stopped" data-stopped>Stopped by: {{ why.stopped_by }}</p>
      <p v-else class="open">Nothing stops it now.</p>
      <p class="dusk small asking">
        <template v-if="pinned"
          >Asked for by you. <button class="link" @click="$emit('free')">Follow the focus again</button></template
        >
        <EditWord
          text="ask about something else"
          label="Ask why about"
          kind="choice"
          :choices="choices"
          @change="ask"
        />
      </p>
      <ul>
        <NeedTree v-for="(line, i) in why.place" :key="i" :need="line" @ask="ask" @jump="jump" />
      </ul>
      <div v-for="cue in why.cues" :key="cue.origin">
        <p class="cue">
          <b class="rule">{{ cue.rule }}</b> <span class="dusk">{{ cue.when }}</span>
        </p>
        <p v-if="cue.passed_over" class="dusk small">
          It fits, but is passed over: an earlier cue runs, and does not go on.
        </p>
        <ul class="needs">
          <NeedTree v-for="(need, i) in cue.needs" :key="i" :need="need" @ask="ask" @jump="jump" />
          <li v-if="!cue.needs.length" class="dusk">asks for nothing</li>
        </ul>
      </div>
      <template v-if="why.reach.length">
        <h2>In reach</h2>
        <p v-for="one in why.reach" :key="one.key">
          <span v-if="one.cap" class="key cap">{{ one.cap }}</span>
          <button class="link" @click="$emit('ask', one.key)">{{ one.text }}</button>
          <span v-if="one.met" class="focus">{{ ' focus' }}</span> <span class="dusk">{{ one.detail }}</span>
        </p>
      </template>
    </template>
    <p v-else class="dusk asking">
      Walk up to something, or click a badge: here stands every condition it has, and the one that stops it. Or
      <EditWord text="ask about anything" label="Ask why about" kind="choice" :choices="choices" @change="ask" />.
    </p>
  </section>
</template>

<style scoped>
/* What is opened in a word lies on the night, too. */
.asking { --page: var(--night); --ink: var(--chalk); --shade: #2a333c; --pencil: var(--dusk); }
.asking { display: flex; flex-wrap: wrap; gap: 2px 14px; }
p.dusk.asking { display: block; }
.stopped { color: var(--glow); font-weight: 600; } .open { color: #8fc79a; }
ul { list-style: none; margin: 6px 0; padding: 0; }
.needs { padding-left: 16px; } .cue { margin-top: 8px; } .rule::first-letter { text-transform: uppercase; }
.dusk { color: var(--dusk); } .cap { margin-right: 6px; } .focus { color: var(--glow); }
h2 { margin-top: 18px; border-bottom: 1px solid var(--night-rule); }
.link { border-bottom-color: #5b6670; } .link:hover { background: var(--night); }
</style>

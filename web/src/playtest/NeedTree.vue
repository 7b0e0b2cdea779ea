<script setup lang="ts">
import type { WhyLine } from './connection'

/** One need with its value, since when it is so, what could bring it, and its parts below it. */
defineProps<{ need: WhyLine }>()
const said = (need: WhyLine): string =>
  need.parts ? (need.any ? 'one of these' : 'all of these') : need.text
const emit = defineEmits<{ ask: [key: string]; jump: [entry: number] }>()
</script>

<template>
  <li class="need" :class="{ unmet: !need.met }">
    <b aria-hidden="true">{{ need.met ? '✓' : '✗' }}</b
    ><span class="sr">{{ need.met ? 'met' : 'not met' }}</span> {{ said(need)
    }}<span v-if="need.detail && !need.parts" class="dusk"> — {{ need.detail }}</span>
    <p v-if="need.since && !need.parts" class="since dusk">
      since {{ need.since.at }}:
      <button class="link" @click="emit('jump', need.since.entry)">{{ need.since.text }}</button>,
      {{ need.since.cause }}
    </p>
    <ul v-if="need.parts">
      <NeedTree
        v-for="(part, i) in need.parts"
        :key="i"
        :need="part"
        @ask="(key) => emit('ask', key)"
        @jump="(entry) => emit('jump', entry)"
      />
    </ul>
    <p v-else-if="need.from?.length" class="from dusk">
      from
      <template v-for="(from, f) in need.from" :key="from.origin"
        >{{ f ? ' · ' : ''
        }}<button class="link" @click="emit('ask', from.origin.split('/')[1] ?? '')">{{ from.text }}</button></template
      >
    </p>
  </li>
</template>

<style scoped>
.need b { color: #8fc79a; margin-right: 4px; } .need.unmet > b { color: #f0907e; }
ul { list-style: none; margin: 0; padding-left: 18px; }
.from, .since { padding-left: 18px; margin: 0; } .dusk { color: var(--dusk); }
.link { border-bottom-color: #5b6670; text-align: left; } .link:hover { background: var(--night); }
.sr { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
</style>

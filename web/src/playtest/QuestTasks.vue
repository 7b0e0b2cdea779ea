<script setup lang="ts">
import type { HudQuest } from './connection'

/** What a quest that is under way asks for by now. */
defineProps<{ quest: HudQuest }>()
</script>

<template>
  <ul>
    <li
      v-for="one in quest.objectives"
      :key="one.key"
      :class="{ met: one.met, closed: one.closed }"
      :data-objective="one.key"
    >
      <span aria-hidden="true">{{ one.met ? '●' : one.closed ? '×' : '○' }}</span> {{ one.name
      }}<i v-if="one.optional"> optional</i><i v-if="one.closed">, too late</i>
      <span v-if="one.of > 1" class="count">{{ one.count }} of {{ one.of }}</span>
      <span v-if="one.mark" class="far">{{ one.mark.words }}</span>
    </li>
    <li v-if="quest.ready" class="ready">ready to be handed in</li>
  </ul>
</template>

<style scoped>
ul { list-style: none; margin: 4px 0 0; padding: 4px 0 0; border-top: 1px solid var(--night-rule); }
.met { color: var(--dusk); }
.count { float: right; color: var(--dusk); font-size: 13px; }
.far { display: block; padding-left: 18px; color: var(--dusk); font-size: 13px; }
.closed { color: var(--dusk); }
.ready { color: var(--glow); }
</style>

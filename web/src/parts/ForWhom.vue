<script setup lang="ts">
import { useOwnValues } from './own'

/** For whom a change of what a kind gives its objects is made: for this one, as usual, or for all of them. */
const owns = useOwnValues()
</script>

<template>
  <span v-if="owns?.alike" class="for-whom" role="radiogroup" aria-label="For whom it is changed">
    changes go
    <button
      v-for="all in [false, true]"
      :key="String(all)"
      class="link"
      role="radio"
      :aria-checked="owns.forAll === all"
      @pointerdown.prevent
      @click="owns.choose(all)"
    >
      {{ all ? (owns.alike > 1 ? `for all ${owns.alike}` : 'for the kind') : 'for this one' }}
    </button>
  </span>
</template>

<style scoped>
.for-whom { white-space: nowrap; }
button { margin-left: 6px; }
button[aria-checked='true'] {
  color: var(--ink); font-weight: 650; text-decoration: none; border-bottom: 2px solid var(--ink);
}
</style>

<script setup lang="ts">
/** The marks of a strip of time, each at its tick; `--whole` is how many ticks the strip is long. */
export interface StripMark {
  tick: number
  look: string
  text: string
}
defineProps<{ marks: StripMark[] }>()
</script>

<template>
  <span
    v-for="mark in marks"
    :key="mark.tick"
    class="mark"
    :class="mark.look"
    :style="{ left: `calc(100% * ${mark.tick} / var(--whole))` }"
  />
</template>

<style scoped>
.mark { position: absolute; top: 2px; width: 2px; height: 10px; margin-left: -1px; background: var(--dusk); }
.mark.loud { background: #7fb2e6; height: 14px; top: 0; } .mark.no { background: var(--glow); }
</style>

<script setup lang="ts">
import EditWord from './EditWord.vue'

/** The prompt as the player sees it; its wording is edited inside the picture. */
defineProps<{
  cap: string
  shown: string
  wording: string
  hold: boolean
  reason?: string
  usable?: boolean
  path?: string
}>()
defineEmits<{ change: [wording: string] }>()
</script>

<template>
  <figure class="prompt-picture" :class="{ dim: usable === false }">
    <svg width="38" height="38" viewBox="-19 -19 38 38" aria-hidden="true">
      <template v-if="hold">
        <circle r="15" fill="none" stroke="#56606a" stroke-width="4" />
        <path d="M0-15A15 15 0 0 1 15 0" fill="none" stroke="var(--glow)" stroke-width="4" />
      </template>
      <rect v-else x="-12" y="-12" width="24" height="24" rx="6" fill="none" stroke="var(--chalk)" stroke-width="2" />
      <text y="5" text-anchor="middle">{{ cap }}</text>
    </svg>
    <EditWord
      :path="path"
      :text="shown || 'no wording yet'"
      label="prompt wording"
      kind="text"
      :value="wording"
      @change="(v) => $emit('change', v)"
    />
    <span v-if="reason" class="reason">{{ reason }}</span>
  </figure>
</template>

<style scoped>
.prompt-picture {
  flex: none; width: 172px; min-height: 84px; margin: 0; padding: 12px; background: var(--night);
  color: var(--chalk); border-radius: 6px; display: flex; flex-direction: column; align-items: center; gap: 6px;
  text-align: center; line-height: 1.35;
}
text { fill: var(--chalk); font: 600 15px var(--mono); }
.reason { color: var(--glow); font-size: 12.5px; }
.dim svg { filter: grayscale(1); }
:deep(.word) { text-decoration-color: #6a747d; }
:deep(.word:hover) { background: var(--floor); }
:deep(input) { background: var(--floor); color: var(--chalk); text-align: center; max-width: 148px; }
</style>

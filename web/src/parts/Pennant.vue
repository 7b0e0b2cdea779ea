<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** The pennant of a finding: a full flag for what stops it, an outlined one, a mast alone for what is worth a look. */
defineProps<{ weight: Schemas['FindingShape']['weight'] }>()
</script>

<template>
  <svg class="pennant-sign" width="16" height="17" viewBox="0 0 16 17" role="img" :aria-label="weight">
    <path
      :d="weight === 'worth a look' ? 'M2 16V2H13' : 'M2 16V2H14L11 6L14 10H2'"
      :fill="weight === 'stops it' ? 'currentColor' : 'none'"
      :class="{ faint: weight === 'worth a look' }"
    />
  </svg>
</template>

<style scoped>
.pennant-sign { flex: none; color: var(--amber); }
path { stroke: currentColor; stroke-width: 1.8; stroke-linejoin: round; }
.faint { stroke: var(--pencil); }
</style>

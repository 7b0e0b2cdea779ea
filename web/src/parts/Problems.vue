<script setup lang="ts">
import type { Problem } from '@/api/client'

defineProps<{ problems: Problem[] }>()
</script>

<template>
  <ul v-if="problems.length" class="problems" role="status">
    <li v-for="(problem, i) in problems" :key="i">
      <span class="sign" aria-hidden="true">!</span>
      <div>
        <pre>{{ problem.message }}</pre>
        <span class="quiet">{{ problem.fix }}</span>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.problems { list-style: none; padding: 0; margin: 6px 0 0; font-size: 13px; line-height: 1.5; }
li { display: flex; gap: 8px; }
.sign { flex: none; width: 18px; height: 18px; border-radius: 50%; background: var(--amber); color: var(--page); text-align: center; font-weight: 700; line-height: 18px; font-size: 12px; margin-top: 1px; }
pre { font-family: inherit; white-space: pre-wrap; margin: 0; color: var(--amber); }
pre:has(+ span) { font-family: inherit; }
</style>

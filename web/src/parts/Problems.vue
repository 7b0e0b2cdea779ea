<script setup lang="ts">
import type { Problem } from '@/api/client'

defineProps<{ problems: Problem[] }>()

/** The first line says what is wrong; lines after it are the text with its caret. */
function parts(message: string): { says: string; text: string } {
  const [says = '', ...rest] = message.split('\n')
  return { says, text: rest.join('\n') }
}
</script>

<template>
  <ul v-if="problems.length" class="problems" role="status">
    <li v-for="(problem, i) in problems" :key="i">
      <span class="sign" aria-hidden="true">!</span>
      <div>
        <p class="says">{{ parts(problem.message).says }}</p>
        <pre v-if="parts(problem.message).text" class="mono">{{ parts(problem.message).text }}</pre>
        <p class="quiet">{{ problem.fix }}</p>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.problems { list-style: none; padding: 0; margin: 6px 0 0; font-size: 13px; line-height: 1.5; }
li { display: flex; gap: 8px; }
.sign {
  flex: none; width: 18px; height: 18px; border-radius: 50%; background: var(--amber); color: var(--page);
  text-align: center; font-weight: 700; line-height: 18px; font-size: 12px; margin-top: 1px;
}
.says { color: var(--amber); }
pre { white-space: pre; overflow-x: auto; margin: 2px 0; font-size: 12.5px; line-height: 1.3; }
.night .says { color: var(--glow); }
</style>

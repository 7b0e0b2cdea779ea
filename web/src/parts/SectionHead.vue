<script setup lang="ts">
import { useStorage } from '@vueuse/core'

const props = defineProps<{ title: string; note?: string; remember: string }>()
const open = useStorage(`section:${props.remember}`, true)
</script>

<template>
  <section>
    <header>
      <h2>
        <button :aria-expanded="open" @click="open = !open">{{ title }}</button>
      </h2>
      <span class="rule" />
      <span class="quiet small note"><slot name="note">{{ note }}</slot></span>
    </header>
    <div v-if="open" class="inside"><slot /></div>
  </section>
</template>

<style scoped>
section { margin-top: 16px; position: relative; }
header { display: flex; align-items: baseline; gap: 10px; }
.rule { flex: 1; border-top: 1px solid var(--rules); align-self: center; }
.inside { margin-top: 4px; }
h2 button[aria-expanded='false']::after { content: ' …'; color: var(--pencil); }
</style>

<script setup lang="ts">
import { triedAgainIn, tryNow } from '@/api/connection'

const KEPT = 'What you change is kept here and saved in order once the server answers; leave this page open.'

/** Says that the server cannot be reached, and what is kept until it can. */
defineProps<{ unsaved: number }>()
</script>

<template>
  <v-alert class="offline">
    <span aria-hidden="true">⚠</span>
    <b>{{ unsaved ? 'Not saved: no connection' : 'No connection' }}</b> · tried again in {{ triedAgainIn }} s
    <button class="link" @click="tryNow">try now</button>
    <span v-if="unsaved"> {{ KEPT }}</span>
  </v-alert>
</template>

<style scoped>
.offline {
  padding: 4px 16px; color: var(--amber); background: #fbeed6; border-bottom: 1px solid var(--rules);
  font-size: 13.5px;
}
.night .offline { background: #2a2318; color: #f0c987; border-color: var(--night-rule); }
</style>

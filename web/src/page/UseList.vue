<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { useBook } from '@/stores/book'
import { leadOf } from './leads'

/** Where something is used, each place a link. */
defineProps<{ uses: Schemas['UseShape'][]; empty: string }>()
const book = useBook()
const FIELDS: Record<string, string> = {
  text: 'in a cue',
  targets: 'as its target',
  needs: 'in its needs',
  steps: 'in its steps',
  rewards: 'in its rewards',
  entering: 'on entering',
  marker: 'as its marker',
  then: 'leads on to it',
  talker: 'as the talker',
  speaker: 'as the speaker',
  kind: 'of this kind',
  offered_by: 'offered by it',
  first_level: 'begins in it',
  to_level: 'leads to it',
  drops_to: 'drops down to it',
  gear: 'works with it in hand',
  'design:tags': 'wears it',
  'own:tags': 'wears it',
  'design:suspends': 'suspends it',
  'own:suspends': 'suspends it',
  'design:reach.who': 'counts it for its reach',
  'own:reach.who': 'counts it for its reach',
}
/** How a thing is used by another, in words: a field by its name, a value as what it is. */
const how = (field: string): string =>
  FIELDS[field] ?? field.replace(/^(design|own):(values\.)?/, 'as its ').replaceAll('_', ' ')
</script>

<template>
  <ul>
    <li v-for="use in uses" :key="`${use.record}.${use.field}`">
      <router-link v-if="leadOf(book, use.record)" class="link" :to="leadOf(book, use.record)!">
        {{ use.place }}
      </router-link>
      <span v-else>{{ use.place }}</span>
      {{ ' ' }}<span class="quiet small">{{ how(use.field) }}</span>
    </li>
    <li v-if="!uses.length" class="quiet">{{ empty }}</li>
  </ul>
</template>

<style scoped>
ul { list-style: none; margin: 0; padding: 0; }
.link { text-decoration: none; }
</style>

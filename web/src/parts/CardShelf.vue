<script setup lang="ts">
import { useRoute } from 'vue-router'
import { useCards } from '@/stores/cards'

/** The start cards beside the threads: each begins a walk. */
const cards = useCards()
const route = useRoute()
</script>

<template>
  <p v-if="cards.all.length" class="cards" aria-label="Start cards">
    <span class="quiet">Start cards</span>
    <router-link
      v-for="card in cards.all"
      :key="card.id"
      v-tooltip="card.values.digit ? `Walk from here (Alt ${card.values.digit})` : 'Walk from here'"
      class="one"
      :to="cards.walkFrom(card, route)"
      ><span v-if="card.values.digit" class="key">{{ card.values.digit }}</span
      ><span class="link">{{ card.values.name }}</span></router-link
    >
  </p>
</template>

<style scoped>
.cards { display: flex; flex-wrap: wrap; align-items: baseline; gap: 2px 18px; padding-top: 6px; }
.cards > .quiet { width: 92px; flex: none; }
.one { display: inline-flex; align-items: baseline; gap: 6px; text-decoration: none; max-width: 260px; }
.link { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
</style>

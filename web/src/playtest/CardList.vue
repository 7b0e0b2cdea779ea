<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { headingWord, openWord } from '@/parts/opening'
import { counted } from '@/parts/plural'
import { useBook } from '@/stores/book'
import { useCards } from '@/stores/cards'
import CardPage from './CardPage.vue'

/** The start cards: each begins a walk; one is open to be changed. */
const props = defineProps<{ begun: string }>()
defineEmits<{ here: [] }>()
const book = useBook()
const cards = useCards()
const route = useRoute()
const { quietly } = useQuietly()
const opened = ref(0)
const open = computed(() => cards.all.find((c) => c.id === opened.value))
const lost = (card: RowOf<'card'>): number => cards.byId.get(card.id)?.left_out.length ?? 0
const levelOf = (card: RowOf<'card'>): string =>
  book.of('level').length > 1 && card.values.in_level ? book.name(card.values.in_level) : ''
/** Shows a card that was just kept, its name open where no key would go into it that is meant for the run. */
function show(card: RowOf<'card'> | undefined, named = true): void {
  if (!card) return
  opened.value = card.id
  if (named) void openWord(() => headingWord(card.values.name))
}
function byHand(): void {
  const start = { quest: '', stage: '', changes: '', at: '' }
  void quietly(cards.keepPoint(start, 'New card').then((card) => show(card)))
}
function remove(card: RowOf<'card'>): void {
  void quietly(book.edit([{ do: 'remove', id: card.id }], `Deleted the start card ${card.values.name}`))
}
defineExpose({ show })
</script>

<template>
  <section class="cards" aria-label="Start cards">
    <header>
      <h2>Start cards</h2>
      <span class="rule" />
      <button class="link" @click="$emit('here')"><span class="key">F10</span> keep this spot</button>
      <button class="link" @click="byHand">by hand</button>
    </header>
    <p v-if="!cards.all.length" class="dusk">
      A card keeps a place, quests, items and facts, so that a walk can begin there again. Keep the spot where you
      stand.
    </p>
    <div v-for="card in cards.all" :key="card.id" class="one" :class="{ begun: card.key === props.begun }">
      <span v-if="card.values.digit" v-tooltip="`Alt ${card.values.digit} walks from here`" class="key">{{
        card.values.digit
      }}</span>
      <span v-else class="key none" aria-hidden="true" />
      <router-link class="link name" :data-card="card.key" :to="cards.walkFrom(card, route)">{{
        card.values.name
      }}</router-link>
      <span class="gap" />
      <span v-if="lost(card)" class="glow">{{ counted(lost(card), 'thing') }} left out</span>
      <span v-else class="dusk">{{ levelOf(card) }}</span>
      <button
        class="link"
        :aria-expanded="open?.id === card.id"
        :aria-label="`Change ${card.values.name}`"
        @click="opened = open?.id === card.id ? 0 : card.id"
      >
        {{ open?.id === card.id ? 'close' : 'change' }}
      </button>
    </div>
    <CardPage v-if="open" :key="open.id" :card="open" @remove="remove(open)" />
  </section>
</template>

<style scoped>
/* What is opened in a word lies on the night, too. */
.cards { --page: var(--night); --ink: var(--chalk); --shade: #2a333c; --pencil: var(--dusk); }
header { display: flex; align-items: baseline; gap: 12px; margin-top: 6px; }
.rule { flex: 1; border-top: 1px solid var(--night-rule); align-self: center; }
.one { display: flex; align-items: baseline; gap: 10px; padding: 4px 8px; margin: 0 -8px; border-radius: 4px; }
.begun { background: var(--night); }
.none { visibility: hidden; }
.name { min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.gap { flex: 1; }
.one .dusk { white-space: nowrap; } .dusk { color: var(--dusk); } .glow { color: var(--glow); white-space: nowrap; }
.link { border-bottom-color: #5b6670; } .link:hover { background: var(--night); }
</style>

<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { duration } from '@/quests/fields'

/** How a quest is put before the player: what it is about, asks and gives, and what can be answered. */
defineProps<{ card: Schemas['OfferShown']; number?: number; of?: number; still?: boolean }>()
defineEmits<{ accept: []; decline: []; later: []; turn: [by: number] }>()
const AFTER = { no: '', again: 'offered again later', for_good: 'it is not offered again' } as const
</script>

<template>
  <section class="offer" role="dialog" :aria-label="`Offer: ${card.name}`" :data-offer="card.key">
    <p v-if="card.by" class="by">{{ card.by }}</p>
    <h2>{{ card.name }}</h2>
    <p v-if="card.summary" class="summary">{{ card.summary }}</p>
    <div v-if="card.asks.length || card.rewards.length || card.time_s" class="terms">
      <p v-if="card.asks.length">{{ card.asks.join(' · ') }}</p>
      <p v-if="card.rewards.length">
        For it: <b>{{ card.rewards.join(' · ') }}</b>
      </p>
      <p v-if="card.time_s">
        Time: <b>{{ duration(card.time_s) }}</b>
      </p>
    </div>
    <p class="answers">
      <button class="accept" :disabled="still" @click.stop="$emit('accept')"><span>1</span> Take it on</button>
      <button v-if="card.declined !== 'no'" class="decline" :disabled="still" @click.stop="$emit('decline')">
        <span>2</span> Not now
      </button>
      <i>{{ AFTER[card.declined] }}</i>
    </p>
    <p v-if="(of ?? 1) > 1 || !still" class="others">
      <template v-if="(of ?? 1) > 1">
        <button aria-label="The offer before" @click.stop="$emit('turn', -1)">‹</button> {{ number }} of {{ of }}
        <button aria-label="The next offer" @click.stop="$emit('turn', 1)">›</button>
      </template>
      <button v-if="!still" class="later" @click.stop="$emit('later')">
        <span class="key">Esc</span> decide later
      </button>
    </p>
  </section>
</template>

<style scoped>
.offer {
  width: min(434px, 92%); background: #0e1216; color: var(--chalk); border: 1.5px solid var(--glow);
  border-radius: 10px; padding: 18px 24px 14px; line-height: 1.5;
}
.by { color: var(--glow); font-weight: 650; font-size: 13px; letter-spacing: 0.05em; text-transform: uppercase; }
h2 { font: 650 21px var(--head); margin: 2px 0 6px; overflow-wrap: anywhere; }
p { margin: 0; }
.terms {
  border-top: 1px solid var(--night-rule); margin-top: 10px; padding-top: 8px; color: var(--dusk); font-size: 13.5px;
}
.terms b { color: var(--glow); font-weight: 600; }
.answers { display: flex; flex-wrap: wrap; align-items: center; gap: 8px 12px; margin-top: 14px; }
.answers button { white-space: nowrap; padding: 6px 16px; border-radius: 7px; border: 1px solid var(--chalk); font-weight: 600; }
.answers button span { margin-right: 10px; font-weight: 700; }
.answers .accept { background: var(--glow); color: var(--night); border-color: var(--glow); }
.answers button:disabled { cursor: default; }
.answers i { margin-left: auto; color: var(--dusk); font-style: normal; font-size: 13px; }
.others { display: flex; gap: 10px; margin-top: 10px; color: var(--dusk); font-size: 13px; }
.later { margin-left: auto; }
</style>

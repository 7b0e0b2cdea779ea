<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Hud, Told } from './connection'
import { clock } from './clock'
import QuestTasks from './QuestTasks.vue'
import QuestTimer from './QuestTimer.vue'

/** All quests with their journal, what became of them, and everything that was said to the player, to be read again. */
const props = defineProps<{ hud: Hud; told: Told[] }>()
const emit = defineEmits<{ giveUp: [quest: string]; close: [] }>()
const asked = ref('')
const STATUS: Record<string, string> = {
  available: 'can be had again',
  offered: 'offered',
  active: 'under way',
  ready: 'ready to hand in',
  done: 'done',
  declined: 'declined for good',
  failed: 'failed',
}
const underWay = computed(() => new Map(props.hud.quests.map((q) => [q.key, q])))
const notices = computed(() => props.told.filter((t) => t.notice).slice().reverse())
function giveUp(key: string): void {
  if (asked.value !== key) asked.value = key
  else emit('giveUp', key)
}
</script>

<template>
  <section class="log" role="dialog" aria-label="Quests and what was said">
    <header>
      <h2>Quests</h2>
      <button @click.stop="emit('close')"><span class="key">L</span> close</button>
    </header>
    <article v-for="quest in hud.log" :key="quest.key" :data-logged="quest.key">
      <h3>
        {{ quest.name }} <span :class="quest.status">{{ STATUS[quest.status] ?? quest.status }}</span>
        <QuestTimer v-if="underWay.has(quest.key)" :quest="underWay.get(quest.key)!" />
      </h3>
      <p v-if="quest.why" class="why">{{ quest.why }}</p>
      <p v-for="(text, i) in quest.journal" :key="i">{{ text }}</p>
      <QuestTasks v-if="underWay.has(quest.key)" :quest="underWay.get(quest.key)!" />
      <p v-if="underWay.get(quest.key)?.give_up !== 'no' && underWay.has(quest.key)">
        <button class="link" @click.stop="giveUp(quest.key)">
          {{ asked === quest.key ? 'really give it up?' : 'give up' }}
        </button>
        <span v-if="asked === quest.key && underWay.get(quest.key)?.give_up === 'for_good'">
          it cannot be had again
        </span>
      </p>
    </article>
    <p v-if="!hud.log.length" class="dusk">No quest so far.</p>
    <h2>Said</h2>
    <p v-for="(one, i) in notices" :key="i" class="said">
      <span class="dusk">{{ clock(one.tick) }}</span> {{ one.notice }}
    </p>
    <p v-if="!notices.length" class="dusk">Nothing so far.</p>
  </section>
</template>

<style scoped>
.log {
  position: absolute; left: 20px; top: 18px; bottom: 84px; width: 360px; overflow: auto; z-index: 4;
  background: #0e1216; border: 1px solid var(--night-rule); border-radius: 8px; padding: 12px 18px; line-height: 1.5;
}
header { display: flex; justify-content: space-between; align-items: baseline; }
h2 { font: 650 16px var(--head); margin: 6px 0 2px; }
h3 { font: 600 14px var(--text); margin: 8px 0 0; }
h3 span { font-weight: 400; color: var(--dusk); margin-left: 6px; }
h3 .failed, .why { color: #ef8d7c; } h3 .ready { color: var(--glow); } h3 .done { color: #8fc79a; }
p { margin: 0; font-size: 13.5px; }
.said { display: grid; grid-template-columns: 52px 1fr; }
.dusk { color: var(--dusk); }
</style>

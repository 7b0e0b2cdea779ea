<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import ItemSign from '@/items/ItemSign.vue'
import type { Hud, Told } from './connection'
import { clock } from './clock'
import { counted } from '@/parts/plural'
import QuestTasks from './QuestTasks.vue'
import QuestTimer from './QuestTimer.vue'

/** The player's screen: quests, what is had, notices; on opaque cards in the corners. */
const props = defineProps<{
  hud: Hud
  told: Told[]
  tick: number
  pace: string
  /** The quests move off whoever plays, or below what is said above them. */
  aside: boolean
  lower: boolean
  putOff: string[]
}>()
const emit = defineEmits<{ offers: []; ask: [key: string]; corner: [size: { width: number; height: number }] }>()
const corner = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(corner, undefined, { box: 'border-box' })
watch([width, height], () => emit('corner', { width: width.value, height: height.value }))
const NOTICE_TICKS = 150
const reading = ref('')
const MOST_NOTICES = 4
/** What was told a moment ago: what is said to the player, what was refused and why, and what sounds. */
const notices = computed(() => {
  const fresh = props.told.filter((t) => props.tick - t.tick < NOTICE_TICKS && props.tick >= t.tick)
  return fresh.filter((t) => t.notice || t.what === 'sound').slice(-MOST_NOTICES)
})
function noticeText(one: Told): string {
  return one.notice ?? `♪ ${one.text.replace('Sound: ', '')}`
}
function slotOf(item: string): string {
  return (props.hud.gear.find((g) => g.item === item)?.slot ?? '').replaceAll('_', ' ')
}
function held(item: string): string {
  const slot = slotOf(item)
  return slot ? `, in the ${slot}` : ''
}
const readable = computed(() => props.hud.items.find((i) => i.key === reading.value))
</script>

<template>
  <section
    v-if="hud.quests.length || putOff.length"
    ref="corner"
    class="quests"
    :class="{ aside, lower }"
    aria-label="Quests"
  >
    <article v-for="quest in hud.quests" :key="quest.key">
      <h2>
        <button v-tooltip="'Why: what it waits for'" @click.stop="emit('ask', quest.key)">{{ quest.name }}</button>
        <QuestTimer :quest="quest" />
      </h2>
      <p class="dusk">{{ quest.stage }}</p>
      <p v-if="quest.journal" class="journal">{{ quest.journal }}</p>
      <QuestTasks :quest="quest" />
    </article>
    <p class="dusk all"><span class="key">L</span> all quests and their journal</p>
    <p v-if="putOff.length" class="all">
      <button class="link" @click.stop="$emit('offers')">offered: {{ putOff.join(', ') }}</button>
    </p>
  </section>
  <section class="purse" aria-label="Purse">
    <b>{{ hud.money }} {{ hud.money_name }}</b
    ><br /><span class="dusk"
      >{{ hud.experience }} experience, level {{ hud.experience_level }} · {{ clock(tick) }}</span
    ><template v-if="pace"
      ><br /><span class="pace">{{ pace }}</span></template
    ><template v-for="one in hud.abilities" :key="one.key"
      ><br /><span class="dusk" :class="{ off: !one.usable }" :data-ability="one.key"
        ><span v-if="one.cap" class="key">{{ one.cap }}</span> {{ one.name
        }}{{ one.uses ? ` · ${counted(one.uses, 'use')}` : '' }}{{ one.usable ? '' : ' · not here' }}</span
      ></template
    >
  </section>
  <section v-if="hud.tracked.length" class="tracked dusk" aria-label="Tracked">
    <span v-for="one in hud.tracked" :key="one.verb + one.name">{{ one.name }} {{ one.verb }} {{ one.count }}×</span>
  </section>
  <section class="notices" aria-live="polite">
    <p v-for="(one, i) in notices" :key="`${one.tick}.${i}`" :class="one.what" :data-notice="one.what">
      {{ noticeText(one) }}
    </p>
  </section>
  <section class="items" aria-label="Inventory">
    <button
      v-for="item in hud.items"
      :key="item.key"
      v-tooltip="item.text ? `${item.name}: read it` : item.name"
      :aria-label="`${item.name}, ${item.count}${held(item.key)}`"
      :class="{ held: held(item.key) }"
      :data-item="item.key"
      :disabled="!item.text"
      @click.stop="reading = reading === item.key ? '' : item.key"
    >
      <ItemSign :icon="item.icon" :picture="item.picture" :size="22" />
      <small v-if="item.count > 1">{{ item.count }}</small
      ><em v-if="held(item.key)">{{ slotOf(item.key) }}</em>
    </button>
    <span v-if="!hud.items.length" class="dusk small">nothing in hand</span>
  </section>
  <aside v-if="readable" class="reading" role="dialog" :aria-label="readable.name">
    <h2>{{ readable.name }}</h2>
    <p>{{ readable.text }}</p>
    <button class="key" @click.stop="reading = ''">close</button>
  </aside>
</template>

<style scoped>
.quests {
  position: absolute; left: 20px; top: 18px; width: 252px; background: #0e1216;
  border: 1px solid var(--night-rule); border-radius: 8px; padding: 10px 14px; line-height: 1.5;
}
.quests.lower { top: 64px; } .quests.aside { left: auto; right: 20px; top: 96px; }
article + article { margin-top: 10px; padding-top: 8px; border-top: 1px solid var(--night-rule); }
.all { font-size: 13px; margin-top: 8px; clear: both; }
.journal { font-size: 13px; line-height: 1.4; margin: 2px 0 0; }
.dusk { color: var(--dusk); }
.purse {
  position: absolute; right: 20px; top: 14px; text-align: right; line-height: 1.5; background: #14191ecc;
  border-radius: 6px; padding: 2px 8px;
}
.purse b { color: var(--glow); font-weight: 600; }
.pace { color: var(--glow); }
.notices {
  position: absolute; top: 18px; left: 50%; transform: translateX(-50%); display: flex; flex-direction: column;
  align-items: center; gap: 4px; pointer-events: none; max-width: 44%;
}
.notices p {
  background: #0e1216; border: 1px solid var(--night-rule); border-radius: 8px; padding: 4px 14px;
  animation: in 0.15s;
}
.notices .sound { color: var(--dusk); font-size: 13px; border-style: dashed; }
.items > span, .tracked { background: #14191ecc; border-radius: 6px; padding: 2px 8px; }
.tracked {
  position: absolute; right: 20px; bottom: 16px; display: flex; flex-direction: column; align-items: flex-end;
  font-size: 12.5px; line-height: 1.4;
}
.items .held { border-color: var(--glow); }
.items em {
  position: absolute; left: 0; right: 0; bottom: -15px; font: 12px var(--text); color: var(--dusk);
  text-align: center; white-space: nowrap;
}
.off { font-style: italic; }
.items { position: absolute; left: 20px; bottom: 16px; display: flex; gap: 8px; align-items: center; }
.items button {
  position: relative; width: 46px; height: 46px; display: grid; place-items: center; background: #0e1216;
  border: 1px solid var(--night-rule); border-radius: 8px;
}
.items button:not(:disabled):hover { border-color: var(--glow); }
.items small { position: absolute; right: 5px; bottom: 0; }
.reading {
  position: absolute; left: 20px; bottom: 76px; width: 330px; background: #0e1216;
  border: 1px solid var(--night-rule); border-radius: 8px; padding: 14px 18px;
}
@keyframes in { from { opacity: 0; translate: 0 -6px; } }
</style>

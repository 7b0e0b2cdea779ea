<script setup lang="ts">
import { computed } from 'vue'

const props = defineProps<{ place: string }>()
defineEmits<{ close: [] }>()
const EVERYWHERE: [string, string][] = [['Ctrl Enter', 'walk, and come back'], ['/', 'find'], ['Ctrl Z', 'undo'], ['Ctrl Shift Z', 'redo'], ['?', 'these keys']]
const HERE: Record<string, [string, string][]> = {
  plan: [['double-click', 'place something that works'], ['letters', 'the same, with nothing selected'], ['W', 'draw walls and areas'], ['M', 'measure'], ['Shift drag', 'select several'], ['Ctrl click', 'one more, one less'], ['Ctrl drag', 'drag a copy out'], ['arrows', 'nudge by 0.25 m, with Shift by 0.05 m'], ['[ ]', 'turn by 15°'], ['Ctrl D', 'duplicate'], ['Delete', 'delete'], ['+ −', 'zoom'], ['0', 'all of the level'], ['Ctrl E', 'a cue as text, and back'], ['Alt ↑ ↓', 'a need or step earlier, later'], ['Ctrl C X V', 'copy, cut, paste a need or step'], ['Alt Shift ↑ ↓', 'a cue earlier, later']],
  quests: [['N', 'new quest'], ['B', 'new bead after this one'], ['Alt ← →', 'move the bead']],
  dialogue: [['Ctrl Enter', 'walk'], ['O', 'new opener'], ['R', 'new reply to this line']],
  items: [['N', 'new item'], ['F', 'new fact']],
  playtest: [['W A S D', 'walk, or click the floor'], ['E F …', 'the controls of the project'], ['1–9', 'answer, or press a button of a panel'], ['Space', 'skip the voice'], ['F2', 'again'], ['F3 F4', 'slower, faster'], ['F6', 'pause, go on'], ['F7', 'one tick'], ['F8', 'reaches']],
}
const rows = computed(() => [...(HERE[props.place] ?? []), ...EVERYWHERE])
</script>

<template>
  <aside class="keys" aria-label="What the keys do here">
    <button class="close" aria-label="Close" @click="$emit('close')">×</button>
    <dl>
      <template v-for="[key, does] in rows" :key="key"><dt><span class="key">{{ key }}</span></dt><dd>{{ does }}</dd></template>
    </dl>
  </aside>
</template>

<style scoped>
.keys { position: fixed; left: 16px; bottom: 16px; z-index: 40; background: var(--ink); color: var(--page); padding: 12px 20px 12px 16px; border-radius: 10px; box-shadow: 0 8px 32px #0005; }
dl { display: grid; grid-template-columns: auto auto; gap: 2px 14px; margin: 0; font-size: 13px; }
dt { text-align: right; } dd { margin: 0; }
.close { position: absolute; right: 10px; top: 4px; font-size: 18px; }
</style>

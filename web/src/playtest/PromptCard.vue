<script setup lang="ts">
import { computed } from 'vue'
import type { LivePrompt } from './connection'

/** A prompt on an opaque card: in the pile of its object, or at a place of the screen. */
const props = defineProps<{
  prompt: LivePrompt
  /** Where on the screen, in pixels. */
  fixed?: { x: number; y: number }
  /** The entry that the control works. */
  marked: string
}>()
defineEmits<{ choose: [button: string]; mark: [button: string] }>()
const ring = computed(() => 2 * Math.PI * 15 * props.prompt.progress)
</script>

<template>
  <div
    class="card"
    :class="{ dim: !prompt.usable, fixed, panel: prompt.buttons.length }"
    :style="{ ...(fixed && { left: `${fixed.x}px`, top: `${fixed.y}px` }), '--opens': `${prompt.opens_s}s` }"
    role="status"
    :data-prompt="prompt.object"
  >
    <svg width="36" height="36" viewBox="-18 -18 36 36" aria-hidden="true">
      <template v-if="prompt.hold">
        <circle r="15" class="track" />
        <circle r="15" class="ring" :stroke-dasharray="`${ring} 200`" transform="rotate(-90)" />
      </template>
      <rect v-else x="-12" y="-12" width="24" height="24" rx="5" />
      <text y="5" text-anchor="middle">{{ prompt.cap }}</text>
    </svg>
    <p>
      <span class="wording">{{ prompt.wording }}</span
      ><span v-if="prompt.reason && !prompt.buttons.length" class="reason">{{ prompt.reason }}</span>
      <span v-if="prompt.buttons.length" class="buttons">
        <button
          v-for="(b, i) in prompt.buttons"
          :key="b.key"
          :class="{ off: !b.usable, marked: b.key === marked }"
          :aria-current="b.key === marked"
          :data-button="b.key"
          @pointerenter="$emit('mark', b.key)"
          @focus="$emit('mark', b.key)"
          @click.stop="$emit('choose', b.key)"
        >
          <span class="key">{{ i + 1 }}</span> {{ b.wording }}
          <span v-if="b.key === marked" class="key cap">{{ prompt.cap }}</span>
          <i v-if="b.reason">{{ b.reason }}</i>
        </button>
      </span>
    </p>
  </div>
</template>

<style scoped>
.card {
  display: flex; align-items: center; gap: 10px; max-width: 300px; background: #0e1216; border: 1px solid #3a444d;
  border-radius: 8px; padding: 5px 14px 5px 8px; color: var(--chalk); line-height: 1.3; pointer-events: none;
}
.card.fixed { position: absolute; z-index: 3; transform: translate(-50%, -50%); }
.card.panel { pointer-events: auto; max-width: 340px; }
.buttons { display: flex; flex-direction: column; gap: 4px; margin-top: 5px; }
.buttons button { border: 1px solid #3a444d; border-radius: 6px; padding: 3px 10px; }
.buttons button:hover { border-color: var(--glow); }
.buttons .marked { border-color: var(--glow); box-shadow: inset 3px 0 var(--glow); }
.buttons .cap { float: right; margin-left: 10px; color: var(--glow); }
.buttons .off { color: var(--dusk); border-style: dashed; }
.buttons i { display: block; color: var(--glow); font-size: 13px; }
p { display: flex; flex-direction: column; }
svg { flex: none; }
rect { fill: none; stroke: var(--glow); stroke-width: 2; } text { fill: var(--glow); font: 600 14px var(--mono); }
.track { fill: none; stroke: #3a444d; stroke-width: 3.5; } .ring { fill: none; stroke: var(--glow); stroke-width: 3.5; }
.dim .wording { color: var(--dusk); } .dim rect { stroke: var(--dusk); } .dim text { fill: var(--dusk); }
.reason { color: var(--glow); font-size: 13px; }
.prompt-enter-active, .prompt-leave-active {
  transition: opacity var(--opens, 0.15s) ease-out, scale var(--opens, 0.15s) ease-out;
}
.prompt-enter-from, .prompt-leave-to { opacity: 0; scale: 0.92; }
</style>

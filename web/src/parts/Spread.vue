<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed } from 'vue'
import { follow } from './dragging'

/** The open spread: a working place on the left, the page of what is selected on the right; the gutter drags. */
const share = useStorage('spread-share', 0.6)
const left = computed(() => `${Math.round(share.value * 1000) / 10}%`)

function drag(event: PointerEvent): void {
  event.preventDefault()
  const move = (e: PointerEvent): void => {
    const next = e.clientX / window.innerWidth
    share.value = next > 0.93 ? 1 : next < 0.12 ? 0 : Math.min(Math.max(next, 0.25), 0.85)
  }
  const was = share.value
  follow({ move, cancel: () => (share.value = was) })
}
function key(event: KeyboardEvent): void {
  const by = event.key === 'ArrowLeft' ? -0.02 : event.key === 'ArrowRight' ? 0.02 : 0
  if (by) share.value = Math.min(Math.max(share.value + by, 0), 1)
}
</script>

<template>
  <div class="spread">
    <div class="left" :style="{ width: `calc(${left} - 6px)` }"><slot name="left" /></div>
    <div
      class="gutter"
      role="separator"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="Gutter between plan and page"
      :aria-valuenow="Math.round(share * 100)"
      @pointerdown="drag"
      @keydown="key"
      @dblclick="share = 0.6"
    />
    <article class="right"><slot /></article>
  </div>
</template>

<style scoped>
.spread { flex: 1; display: flex; min-width: 0; min-height: 0; }
.left { flex: none; display: flex; flex-direction: column; min-height: 0; overflow: hidden; }
.gutter {
  flex: none; width: 9px; cursor: col-resize; background: linear-gradient(90deg, #0000, #22303c14 45%, #fff0);
  border-left: 1px solid var(--rules);
}
.right { flex: 1; min-width: 0; overflow: auto; background: var(--page); padding: 20px 26px 40px 34px; }
</style>

<script setup lang="ts">
import type { Talk } from './connection'

/** What is said and what can be answered, as the player sees it. */
defineProps<{ talk: Talk }>()
defineEmits<{ choose: [key: string]; skip: [] }>()
</script>

<template>
  <section class="talk-box" aria-label="Conversation" aria-live="polite">
    <p class="speaker">{{ talk.speaker.toUpperCase() }}</p>
    <p class="said">{{ talk.wording }}</p>
    <ol v-if="talk.replies.length">
      <li v-for="(reply, i) in talk.replies" :key="reply.key">
        <button :disabled="!reply.usable" :data-answer="reply.key" @click="$emit('choose', reply.key)">
          <span class="key">{{ i + 1 }}</span> {{ reply.wording }} <i v-if="reply.reason">{{ reply.reason }}</i>
        </button>
      </li>
    </ol>
    <p v-else class="skip">
      <button @click="$emit('skip')"><span class="key">Space</span> go on</button
      ><span class="voice" :style="{ width: `${talk.voice * 100}%` }" />
    </p>
  </section>
</template>

<style scoped>
.talk-box {
  background: var(--night); color: var(--chalk); border: 1px solid var(--night-rule); border-radius: 8px;
  padding: 12px 18px;
}
.speaker { color: var(--glow); font-weight: 650; letter-spacing: 0.05em; font-size: 13px; }
.said { font-size: 15px; }
ol { list-style: none; padding: 0; margin: 6px 0 0; }
li button { padding: 2px 0; width: 100%; }
li button:hover:not(:disabled) { background: var(--floor); }
button:disabled { color: var(--dusk); cursor: default; }
.skip { position: relative; color: var(--dusk); font-size: 13px; margin-top: 4px; }
.voice { position: absolute; left: 0; bottom: -4px; height: 2px; background: var(--glow); }
</style>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { RowOf } from '@/api/client'
import TalkBox from '@/playtest/TalkBox.vue'
import { usePlaytest } from '@/playtest/connection'
import { openedAt } from '@/parts/walking'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'

/** The talk played beside its words, with the real engine, from the point that is chosen by *as if*. */
const props = defineProps<{ talk: RowOf<'conversation'> }>()
const book = useBook()
const live = useLive()
const run = usePlaytest(book.project)
const begun = ref(false)
const asked = ref(false)
const where = computed(() => openedAt(book, props.talk))
const spoken = computed(() => run.picture.value?.talk ?? null)

function begin(): void {
  const [quest = '', stage = ''] = live.asked.split('.')
  begun.value = true
  asked.value = false
  run.begin({ begin: { quest, stage, changes: live.changes, at: where.value } })
}
watch(run.picture, (picture) => {
  const prompt = picture?.prompts.find((p) => p.object === where.value)
  if (prompt && !asked.value) {
    asked.value = true
    run.send({ input: { down: [prompt.control] } })
    run.send({ input: { up: [prompt.control] } })
  }
})
</script>

<template>
  <p v-if="!where" class="quiet">
    Nothing opens this conversation yet: a cue with the step <i>open conversation</i> does.
  </p>
  <p v-else-if="!begun">
    <button class="link" @click="begin">begin it{{ live.on ? ' as if' : ' from the start' }}</button>
  </p>
  <template v-else>
    <TalkBox
      v-if="spoken"
      :talk="spoken"
      @choose="(key) => run.send({ input: { choose: key } })"
      @skip="run.send({ input: { skip: true } })"
    />
    <p v-else class="quiet">{{ asked && run.picture.value ? 'The talk has ended.' : 'Walking up …' }}</p>
    <p class="small"><button class="link" @click="begin">again</button></p>
  </template>
</template>

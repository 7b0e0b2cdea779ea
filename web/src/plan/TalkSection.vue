<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import { firstWords } from '@/dialogue/wording'
import SectionHead from '@/parts/SectionHead.vue'
import { counted } from '@/parts/plural'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'

/** What somebody says: the openers of the conversations that are theirs or that they open, each leading to its line. */
const props = defineProps<{ thing: RowOf<'object'> }>()
const book = useBook()
const live = useLive()
const talks = computed(() => {
  const kind = book.find('kind', props.thing.values.kind)
  const cues = [...book.of('cue', props.thing.id), ...(kind ? book.of('cue', kind.id) : [])]
  const steps = cues.flatMap((c) => [...c.values.text.matchAll(/\bopen conversation (\w+)/g)])
  const opened = new Set(steps.map((m) => m[1]))
  return book.of('conversation').filter((t) => t.values.talker === props.thing.key || opened.has(t.key))
})
const openersOf = (talk: RowOf<'conversation'>): RowOf<'line'>[] =>
  book.of('line', talk.id).filter((l) => l.values.opener)
const saidNow = (line: RowOf<'line'>): boolean => live.on && Boolean(live.reading?.lines[line.key]?.said)
</script>

<template>
  <SectionHead v-if="talks.length" title="Says" remember="says">
    <template #note>
      <router-link
        v-for="talk in talks"
        :key="talk.id"
        class="link talk"
        :to="{ name: 'dialogue', params: { selected: talk.key } }"
        >{{ talk.values.name }}, {{ counted(book.of('line', talk.id).length, 'line') }}</router-link
      >
    </template>
    <ol v-for="talk in talks" :key="talk.id" class="says">
      <li v-for="line in openersOf(talk)" :key="line.id" :data-says="line.key">
        <router-link class="link" :to="{ name: 'dialogue', params: { selected: line.key } }"
          >“{{ firstWords(line.values.wordings[0] ?? '', 56) }}”</router-link
        >
        <b v-if="saidNow(line)" class="fine"> said now</b>
      </li>
    </ol>
  </SectionHead>
</template>

<style scoped>
.says { list-style: none; margin: 0; padding: 0; }
.talk + .talk { margin-left: 10px; }
</style>

<script setup lang="ts">
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { useBook } from '@/stores/book'

/** The levels of the project, in a line above the plan; an exit's end can be dropped on a name. */
defineProps<{ level: RowOf<'level'> }>()
const emit = defineEmits<{ choose: [key: string]; page: [key: string] }>()
const book = useBook()
const { quietly } = useQuietly()

async function add(): Promise<void> {
  const outline = [
    [0, 0],
    [10, 0],
    [10, 8],
    [0, 8],
  ]
  const number = book.of('level').length + 1
  const name = book.freshName('level', `Level ${number}`)
  const done = await book.edit(
    [
      { do: 'add', type: 'level', values: { name, start_x_m: 2, start_y_m: 2 } as never },
      { do: 'add', type: 'area', under: 0, values: { name: `Room of level ${number}`, outline } as never },
      { do: 'add', type: 'wall', under: 0, values: { points: [...outline, outline[0]] } as never },
    ],
    'Added a level',
  )
  const made = done.rows.find((r) => r.type === 'level')
  if (made) emit('choose', made.key)
}
</script>

<template>
  <nav class="levels" aria-label="Levels">
    <v-tabs :model-value="level.key" show-arrows>
      <v-tab
        v-for="one in book.of('level')"
        :key="one.id"
        :value="one.key"
        :class="{ here: one.id === level.id }"
        :data-level="one.key"
        :aria-current="one.id === level.id"
        @click="one.id === level.id ? emit('page', one.key) : emit('choose', one.key)"
      >
        {{ one.values.name }}
      </v-tab>
    </v-tabs>
    <button class="quiet small" @click="quietly(add())">+ level</button>
  </nav>
</template>

<style scoped>
.levels {
  display: flex; gap: 18px; align-items: center; padding: 0 16px; flex: none; overflow-x: auto;
  white-space: nowrap; background: var(--paper);
}
.levels :deep(.v-slide-group__content) { gap: 18px; }
</style>

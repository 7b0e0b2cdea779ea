<script setup lang="ts">
import { useBook } from '@/stores/book'
import { iconPath } from '@/theme/icons'

/** An item's own picture, else the sign that is drawn for it. */
defineProps<{ icon: string; picture: string; size: number }>()
const book = useBook()
</script>

<template>
  <img v-if="picture" :src="`/api/projects/${book.project}/assets/${picture}`" :width="size" :height="size" alt="" />
  <svg v-else :width="size" :height="size" viewBox="0 0 24 24" aria-hidden="true">
    <path :d="iconPath(icon)" fill="currentColor" />
  </svg>
</template>

<style scoped>
img { object-fit: contain; border-radius: 3px; }
</style>

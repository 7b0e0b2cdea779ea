<script setup lang="ts">
import { iconPath } from '@/theme/icons'

defineProps<{ icon: string; size?: number }>()
</script>

<template>
  <svg :width="size ?? 40" :height="size ?? 40" viewBox="-20 -20 40 40" aria-hidden="true">
    <circle r="18.5" fill="var(--page)" stroke="currentColor" stroke-width="2" />
    <path :d="iconPath(icon)" fill="currentColor" transform="translate(-11 -11) scale(.917)" />
  </svg>
</template>

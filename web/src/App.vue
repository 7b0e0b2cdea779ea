<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'

const route = useRoute()
const night = computed(() => route.name === 'playtest')
</script>

<template>
  <v-app :theme="night ? 'night' : 'spread'" :class="{ night }">
    <router-view />
  </v-app>
</template>

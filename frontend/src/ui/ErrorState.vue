<script setup lang="ts">
import { computed } from 'vue'

import { Problem } from '@/api/client'

const props = defineProps<{ error: unknown }>()
const problem = computed(() =>
  props.error instanceof Problem
    ? props.error
    : new Problem(0, 'Something went wrong in this page.', '', 'Load it again.'),
)
</script>

<template>
  <div class="state" role="alert">
    <h2>{{ problem.fact }}</h2>
    <p class="soft">{{ problem.place }} {{ problem.wayOut }}</p>
    <slot />
  </div>
</template>

<style scoped>
.state {
  max-width: 520px;
  margin: 80px auto;
  padding: 0 24px;
}
</style>

<script setup lang="ts">
import StandingMark from './StandingMark.vue'
import { STANDINGS, type Standing } from './useForecast'

/** How many items stand how, each sort that there is any of. */
defineProps<{ sums: Partial<Record<Standing, number>> }>()
</script>

<template>
  <StandingMark
    v-for="standing in STANDINGS.filter((name) => sums[name])"
    :key="standing"
    :standing="standing"
    :count="sums[standing]"
  />
</template>

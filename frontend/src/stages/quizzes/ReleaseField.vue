<script setup lang="ts">
import { computed } from 'vue'

import MomentField from './MomentField.vue'
import { AT_A_TIME, RELEASE } from './words'

/** When something is shown: at a time of the quiz, or at a moment; or not said, which is as usual. */
const release = defineModel<string | null | undefined>({ required: true })
const props = defineProps<{ label: string; zone: string; usual: string; later: string }>()
const isMoment = computed(() => Boolean(release.value) && !((release.value ?? '') in RELEASE))
const choice = computed({
  get: () => (isMoment.value ? AT_A_TIME : (release.value ?? '')),
  set: (value: string) => (release.value = value === AT_A_TIME ? props.later : value || null),
})
</script>

<template>
  <span class="release">
    <select v-model="choice" :aria-label="`When students see: ${label}`">
      <option value="">as usual: {{ usual }}</option>
      <option v-for="(words, value) in RELEASE" :key="value" :value="value">{{ words }}</option>
      <option :value="AT_A_TIME">at a time</option>
    </select>
    <MomentField v-if="isMoment" v-model="release" :zone="zone" :label="`When students see: ${label}, the time`" />
  </span>
</template>

<style scoped>
.release {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
</style>

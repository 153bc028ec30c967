<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Part, Quiz, QuizWork } from './useQuiz'

/** What the quiz is out of, held against what its items add up to; and a total shared out over them. */
const props = defineProps<{ quiz: Quiz; work: QuizWork; parts: Part[] }>()
const STEPS = [1, 0.5, 0.25, 0.1]
const step = ref(1)
const announced = computed(() => props.quiz.settings.out_of)
const sum = computed(() => props.quiz.figures.points)
const differs = computed(() => announced.value != null && sum.value !== announced.value)
const total = ref<number | undefined>()
watch([announced, sum], () => (total.value = announced.value ?? sum.value ?? undefined), { immediate: true })
const over = computed(() =>
  props.parts.length ? (props.parts.length === 1 ? 'this part' : `${props.parts.length} parts`) : 'all parts',
)
</script>

<template>
  <form
    class="row share"
    aria-label="Share out points"
    @submit.prevent="total && work.share.mutate({ total, step, parts: parts.map(({ id }) => id) })"
  >
    <span>Out of</span>
    <ElInputNumber
      :model-value="announced ?? undefined"
      :min="0"
      :controls="false"
      class="narrow"
      placeholder="–"
      aria-label="What the gradebook shows it out of"
      @change="(value: number | undefined) => work.set({ out_of: value || null })"
    />
    <span :class="{ differs }"
      >{{ sum === null ? 'the points differ' : `the items add up to ${sum}`
      }}<template v-if="announced && !differs"> ✓</template></span
    >
    <span class="apart">Share</span>
    <ElInputNumber v-model="total" :min="0" :controls="false" class="narrow" aria-label="Total to share out" />
    <span>out over {{ over }}, in steps of</span>
    <select v-model.number="step" aria-label="Steps of points">
      <option v-for="size in STEPS" :key="size" :value="size">{{ size }}</option>
    </select>
    <ElButton native-type="submit" :disabled="!total" :loading="work.share.isPending.value">Share out</ElButton>
  </form>
</template>

<style scoped>
.share {
  color: var(--rog-ink-soft);
}

.narrow {
  width: 62px;
}

.apart {
  margin-left: 16px;
}

.differs {
  color: var(--rog-signal);
  font-weight: 600;
}
</style>

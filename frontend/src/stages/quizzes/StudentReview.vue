<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, ok } from '@/api/client'
import ErrorState from '@/ui/ErrorState.vue'
import RichText from '@/ui/RichText.vue'
import { points } from '@/ui/words'
import { moment } from '@/ui/zoned'

import StudentItem from './StudentItem.vue'
import type { Trial } from './useTrial'
import { ENDED, RELEASED } from './words'

/** An attempt that was handed in, with as much of it as is released at the time of the trial. */
const props = defineProps<{ trial: Trial; quiz: number; attempt: number }>()
const emit = defineEmits<{ back: [] }>()
const { data: review, error } = useQuery(
  computed(() => ({
    queryKey: ['trial', props.quiz, props.attempt, props.trial.now],
    queryFn: () =>
      ok(
        client.GET('/api/quizzes/{quiz_id}/trial/attempts/{number}', {
          params: { path: { quiz_id: props.quiz, number: props.attempt } },
        }),
      ),
  })),
)
const score = computed(() => props.trial.scores.find(({ number }) => number === props.attempt))
const marked = computed(() => new Map(review.value?.marked.map((entry) => [entry.id, entry])))
const hidden = computed(() =>
  Object.entries(RELEASED)
    .filter(([name]) => review.value && !review.value.released.includes(name))
    .map(([, words]) => words.toLowerCase()),
)
</script>

<template>
  <header>
    <h1>{{ trial.title }}</h1>
    <p v-if="score">Attempt {{ attempt }}, {{ ENDED[score.ended] }}, {{ moment(score.submitted, trial.zone) }}</p>
    <button type="button" class="link-button" @click="emit('back')">← All attempts</button>
  </header>
  <ErrorState v-if="error" :error="error" />
  <p v-else-if="!review" class="faint">Opening…</p>
  <template v-else>
    <section class="result" role="status">
      <strong v-if="review.earned !== null">{{ review.earned }} of {{ points(review.points) }}</strong>
      <strong v-else>Marks are not shown</strong>
      <span v-if="review.by_hand"> · {{ points(review.by_hand) }} await a person</span>
      <span v-if="hidden.length" class="soft"> · not shown: {{ hidden.join(', ') }}</span>
      <RichText v-for="(text, n) in review.said" :key="n" :content="text" />
    </section>
    <ol v-if="review.items.length">
      <StudentItem
        v-for="(item, n) in review.items"
        :key="item.id"
        :item="item"
        :number="n + 1"
        :marked="marked.get(item.id)"
        :model-value="review.responses[item.id]"
      />
    </ol>
    <p v-else class="soft">The items are not shown{{ review.earned === null ? '' : ', only the marks' }}.</p>
  </template>
</template>

<style scoped>
header {
  padding-bottom: 10px;
  border-bottom: 2px solid var(--rog-ink);
}

header p {
  margin: 4px 0;
}

.result {
  padding: 12px 14px;
  margin-top: 16px;
  background: var(--rog-paper);
  border-left: 3px solid var(--rog-ink);
}

.result strong {
  font: 600 18px var(--rog-serif);
}

ol {
  list-style: none;
  padding: 0;
  margin: 0;
}
</style>

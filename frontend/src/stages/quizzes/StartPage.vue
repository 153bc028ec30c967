<script setup lang="ts">
import { computed, ref } from 'vue'

import { points } from '@/ui/words'
import { moment } from '@/ui/zoned'

import type { Trial, useTrial } from './useTrial'
import { ENDED } from './words'

/** The page before an attempt: the rules that hold, the code, and what became of the attempts so far. */
const props = defineProps<{ trial: Trial; work: ReturnType<typeof useTrial> }>()
const emit = defineEmits<{ look: [number] }>()
const code = ref('')
const left = computed(() =>
  props.trial.terms.attempts ? props.trial.terms.attempts - props.trial.scores.length : undefined,
)
const may = computed(() => !props.trial.refusal)
function begin(): void {
  props.work.begin.mutate(code.value)
}
</script>

<template>
  <h1>{{ trial.title }}</h1>
  <ul class="rules">
    <li v-for="rule in trial.rules" :key="rule">{{ rule }}</li>
  </ul>
  <p class="soft">All times are in the time zone {{ trial.zone }}.</p>
  <p v-if="trial.refusal" class="refusal" role="status">
    {{ trial.refusal }}
  </p>
  <form v-else class="begin" @submit.prevent="begin">
    <label v-if="trial.code_wanted">Access code <input v-model="code" autocomplete="off" /></label>
    <ElButton
      type="primary"
      native-type="submit"
      size="large"
      :disabled="!may || (trial.code_wanted && !code.trim())"
      :loading="work.begin.isPending.value"
      >{{ trial.scores.length ? 'Begin another attempt' : 'Begin' }}</ElButton
    >
    <span v-if="left !== undefined && trial.terms.attempts > 1" class="soft"
      >{{ left }} {{ left === 1 ? 'attempt' : 'attempts' }} left</span
    >
  </form>
  <section v-if="trial.scores.length" aria-label="Attempts so far">
    <h2>Attempts so far</h2>
    <ul class="attempts">
      <li v-for="score in trial.scores" :key="score.number">
        <strong>{{ score.number }}</strong>
        <span
          >{{ ENDED[score.ended] }}, {{ moment(score.submitted, trial.zone)
          }}<template v-if="score.days_late">, late</template
          ><template v-if="score.over">, {{ score.over }} minutes over the limit</template><br />
          <template v-if="score.earned !== null">
            <b>{{ score.earned }} of {{ points(score.points) }}</b>
            <span v-if="score.by_hand"> · {{ points(score.by_hand) }} await a person</span>
            <em v-if="score.counts && trial.scores.length > 1" class="counts"> · counts</em>
          </template>
          <span v-else class="soft">Marks are not shown {{ trial.refusal ? '' : 'yet' }}</span>
        </span>
        <button v-if="score.released.length" type="button" class="link-button" @click="emit('look', score.number)">
          Look at attempt {{ score.number }}
        </button>
      </li>
    </ul>
    <p v-if="trial.counts !== null && trial.counts_words" class="soft">
      Of these, {{ trial.counts_words }}: {{ points(trial.counts) }}.
    </p>
  </section>
</template>

<style scoped>
.rules {
  margin: 14px 0 20px;
  padding-left: 20px;
  font: 16.5px/1.6 var(--rog-serif);
}

.refusal {
  padding: 10px 14px;
  border-left: 3px solid var(--rog-ink);
  background: var(--rog-well);
}

.begin {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 18px;
  align-items: center;
}

.begin label {
  display: flex;
  gap: 8px;
  align-items: center;
}

.begin input {
  font: 16px var(--rog-mono);
  padding: 6px 10px;
  width: 160px;
  color: inherit;
  background: var(--rog-paper);
  border: 1px solid var(--rog-rule-strong);
}

section {
  margin-top: 32px;
}

.attempts {
  list-style: none;
  padding: 0;
}

.attempts li {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr) auto;
  gap: 10px;
  padding: 10px 0;
  border-top: 1px solid var(--rog-rule);
}

@media (max-width: 480px) {
  .attempts li {
    grid-template-columns: 28px minmax(0, 1fr);
  }

  .attempts .link-button {
    grid-column: 2;
  }
}
</style>

<script setup lang="ts">
import type { Schemas } from '@/api/client'

defineProps<{ figures: Schemas['FiguresOut'] }>()
const short = (number: number) => Number(number.toFixed(1))
</script>

<template>
  <section>
    <h2>It adds up to</h2>
    <dl>
      <div>
        <dt>Items for each student</dt>
        <dd>{{ figures.items }}</dd>
      </div>
      <div>
        <dt>Points</dt>
        <dd :class="{ differ: figures.points === null }">{{ figures.points ?? 'differ' }}</dd>
      </div>
      <div>
        <dt>Time, by a rule of thumb</dt>
        <dd>{{ figures.minutes }} min</dd>
      </div>
      <div>
        <dt>Two students share</dt>
        <dd>{{ short(figures.overlap) }} on average</dd>
      </div>
      <div>
        <dt>and at worst</dt>
        <dd>{{ figures.worst }}</dd>
      </div>
      <div>
        <dt>Pairs that share half or more</dt>
        <dd>{{ Math.round(figures.at_least_half * 100) }} %</dd>
      </div>
      <div v-if="figures.outcomes.length">
        <dt>Outcomes</dt>
        <dd>{{ figures.outcomes.join(', ') }}</dd>
      </div>
    </dl>
    <p v-for="problem in figures.problems" :key="problem" class="problem">{{ problem }}</p>
  </section>
</template>

<style scoped>
dl {
  margin: 8px 0 0;
}

dl div {
  display: flex;
  justify-content: space-between;
  gap: 16px;
  padding: 4px 0;
  border-bottom: 1px solid var(--rog-rule);
}

dt {
  color: var(--rog-ink-soft);
}

dd {
  margin: 0;
  font-weight: 600;
  text-align: right;
}

.differ,
.problem {
  color: var(--rog-signal);
}

.problem {
  margin: 10px 0 0;
}
</style>

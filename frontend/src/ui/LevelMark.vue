<script setup lang="ts">
defineProps<{ level: string }>()
const WORDS: Record<string, string> = { error: 'error', warning: 'warning', note: 'note', advice: 'advice' }
</script>

<template>
  <span class="level" :class="level"><span class="shape" aria-hidden="true" />{{ WORDS[level] }}</span>
</template>

<style scoped>
.level {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  font-size: 12.5px;
  font-weight: 500;
}

.shape {
  width: 10px;
  height: 10px;
  border: 1.5px solid currentcolor;
}

.error {
  color: var(--rog-signal);
}

.error .shape {
  background: currentcolor;
}

.warning {
  color: var(--rog-caution);
}

.warning .shape {
  background: linear-gradient(to top, currentcolor 50%, transparent 50%);
}

.note,
.advice {
  color: var(--rog-aside);
}

.advice .shape {
  border-radius: 50%;
}
</style>

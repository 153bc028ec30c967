<script setup lang="ts">
/** Moving and removing one of several parts. */
defineProps<{ name: string; index: number; count: number; movable?: boolean }>()
const emit = defineEmits<{ move: [number]; remove: [] }>()
</script>

<template>
  <span class="part-tools">
    <template v-if="movable">
      <button type="button" :disabled="index === 0" title="Up" @click="emit('move', -1)">
        <span aria-hidden="true">↑</span><span class="visually-hidden">Move {{ name }} up</span>
      </button>
      <button type="button" :disabled="index === count - 1" title="Down" @click="emit('move', 1)">
        <span aria-hidden="true">↓</span><span class="visually-hidden">Move {{ name }} down</span>
      </button>
    </template>
    <button type="button" title="Remove" @click="emit('remove')">
      <span aria-hidden="true">×</span><span class="visually-hidden">Remove {{ name }}</span>
    </button>
  </span>
</template>

<style scoped>
.part-tools {
  display: inline-flex;
}

button {
  width: 24px;
  height: 24px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--rog-ink-soft);
  font-size: 14px;
  cursor: pointer;
}

button:hover:not(:disabled) {
  background: var(--rog-well);
  color: var(--rog-ink);
}

button:disabled {
  opacity: 0.35;
  cursor: default;
}
</style>

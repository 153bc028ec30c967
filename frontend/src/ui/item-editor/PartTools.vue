<script setup lang="ts">
/** Moving and removing one of several parts. */
defineProps<{ name: string; index: number; count: number; movable?: boolean }>()
const emit = defineEmits<{ move: [number]; remove: [] }>()
</script>

<template>
  <span class="part-tools">
    <template v-if="movable">
      <button
        type="button"
        :disabled="index === 0"
        :aria-label="`Move ${name} up`"
        title="Up"
        @click="emit('move', -1)"
      >
        ↑
      </button>
      <button
        type="button"
        :disabled="index === count - 1"
        :aria-label="`Move ${name} down`"
        title="Down"
        @click="emit('move', 1)"
      >
        ↓
      </button>
    </template>
    <button type="button" :aria-label="`Remove ${name}`" title="Remove" @click="emit('remove')">×</button>
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

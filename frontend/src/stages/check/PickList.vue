<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'

export interface Option {
  value: string
  label: string
  /** Whether it holds already: choosing it takes it away. */
  on?: boolean
}

/** A short list to choose from by a few keys: type to narrow it, arrows and Enter to choose, Esc to leave. */
const props = defineProps<{ label: string; options: Option[]; free?: string }>()
const emit = defineEmits<{ pick: [string]; close: [] }>()
const typed = ref('')
const at = ref(0)
const field = ref<HTMLInputElement>()
const shown = computed(() => {
  const words = typed.value.trim().toLowerCase()
  const found = props.options.filter((option) => option.label.toLowerCase().includes(words))
  const exact = props.options.some((option) => option.value.toLowerCase() === words)
  return props.free && words && !exact
    ? [...found, { value: typed.value.trim(), label: `${props.free} “${typed.value.trim()}”` }]
    : found
})

function step(by: number): void {
  if (shown.value.length) at.value = (at.value + by + shown.value.length) % shown.value.length
}
function pick(index: number): void {
  const option = shown.value[index]
  if (option) emit('pick', option.value)
}
onMounted(async () => {
  await nextTick()
  field.value?.focus()
})
</script>

<template>
  <div class="pick-list" role="dialog" :aria-label="label" @keydown.escape.stop.prevent="emit('close')">
    <input
      ref="field"
      v-model="typed"
      role="combobox"
      aria-expanded="true"
      aria-controls="pick-options"
      :aria-activedescendant="shown.length ? `pick-${at}` : undefined"
      :aria-label="label"
      :placeholder="label"
      @input="at = 0"
      @keydown.down.prevent="step(1)"
      @keydown.up.prevent="step(-1)"
      @keydown.enter.prevent="pick(at)"
      @blur="emit('close')"
    />
    <ul id="pick-options" role="listbox" :aria-label="label">
      <li
        v-for="(option, index) in shown"
        :id="`pick-${index}`"
        :key="option.value"
        role="option"
        :aria-selected="index === at"
        :class="{ on: option.on }"
        @mousedown.prevent="pick(index)"
        @mousemove="at = index"
      >
        {{ option.label }}
      </li>
      <li v-if="!shown.length" class="faint">Nothing like that.</li>
    </ul>
  </div>
</template>

<style scoped>
.pick-list {
  position: absolute;
  z-index: 5;
  top: calc(100% + 4px);
  left: 0;
  width: 280px;
  background: var(--rog-raised);
  border: 1px solid var(--rog-rule-strong);
  box-shadow: var(--el-box-shadow-light);
}

input {
  width: 100%;
  padding: 6px 10px;
  border: 0;
  border-bottom: 1px solid var(--rog-rule);
  font: inherit;
  color: var(--rog-ink);
  background: transparent;
}

ul {
  list-style: none;
  margin: 0;
  padding: 3px 0;
  max-height: 232px;
  overflow: auto;
}

li {
  padding: 4px 10px;
  cursor: pointer;
}

li[aria-selected='true'] {
  background: var(--rog-joined);
}

li.on::after {
  content: ' ✓';
  color: var(--rog-key);
}
</style>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { points as pointsWords, WORDS } from '@/ui/words'

import PickList, { type Option } from './PickList.vue'
import type { Decision } from './useReading'

/** What is decided at a stroke, each by one key and a short list. */
const props = defineProps<{ item: Schemas['ReadingItemOut']; outcomes: Schemas['Outcome'][]; disabled?: boolean }>()
const { mayEdit } = useRole(useCourse())
/** Nothing is decided here: by readers, nor of what was taken. */
const off = computed(() => props.disabled || !mayEdit.value)
const emit = defineEmits<{ decide: [Decision] }>()
type Kind = 'points' | 'type' | 'outcome'
const open = ref<Kind>()
const held = computed(() => props.item.item.metadata?.outcome ?? [])
const onPaper = computed(() => (props.item.item.metadata?.['answered on'] ?? []).includes('paper'))
const POINTS = ['0.5', '1', '2', '3', '5', '10']

const LISTS: Record<Kind, () => { label: string; free?: string; options: Option[] }> = {
  points: () => ({
    label: 'Points',
    free: 'Set',
    options: [
      ...POINTS.map((value) => ({
        value,
        label: pointsWords(Number(value)),
        on: props.item.item.points === Number(value),
      })),
      { value: 'none', label: 'no points' },
    ],
  }),
  type: () => ({
    label: 'Type',
    options: WORDS.types_to_make.map((value) => ({
      value,
      label: WORDS.types[value] ?? value,
      on: props.item.item.type === value,
    })),
  }),
  outcome: () => ({
    label: 'Outcome',
    free: 'Align with',
    options: [
      ...props.outcomes.map(({ code, text }) => ({
        value: code,
        label: `${code} ${text}`.trim(),
        on: held.value.includes(code),
      })),
      ...held.value
        .filter((code) => !props.outcomes.some((entry) => entry.code === code))
        .map((code) => ({ value: code, label: code, on: true })),
    ],
  }),
}
const list = computed(() => open.value && LISTS[open.value]())

function pick(value: string): void {
  const kind = open.value
  open.value = undefined
  if (kind === 'type') emit('decide', { kind, type: value as never })
  if (kind === 'outcome') emit('decide', { kind, code: value })
  if (kind !== 'points') return
  const typed = Number(value.replace(',', '.'))
  if (value === 'none') emit('decide', { kind, points: null })
  else if (!Number.isNaN(typed)) emit('decide', { kind, points: typed })
}
function show(kind: Kind): void {
  if (!off.value) open.value = open.value === kind ? undefined : kind
}
watch(
  () => props.item.position,
  () => (open.value = undefined),
)
const group = 'Check'
useShortcuts([
  { keys: 'w', label: 'Points', group, run: () => show('points') },
  { keys: 'y', label: 'Type', group, run: () => show('type') },
  { keys: 'u', label: 'Outcome', group, run: () => show('outcome') },
  {
    keys: 'f',
    label: 'Not for a screen, or for one',
    group,
    run: () => !off.value && emit('decide', { kind: 'paper' }),
  },
])
</script>

<template>
  <div v-show="!off" class="decisions" role="group" aria-label="Decisions of one key">
    <button type="button" class="link-button" @click="show('points')">Points <kbd>w</kbd></button>
    <button type="button" class="link-button" @click="show('type')">Type <kbd>y</kbd></button>
    <button type="button" class="link-button" @click="show('outcome')">
      Outcome{{ held.length ? ` ${held.join(', ')}` : '' }} <kbd>u</kbd>
    </button>
    <button type="button" class="link-button" :aria-pressed="onPaper" @click="emit('decide', { kind: 'paper' })">
      {{ onPaper ? 'For paper' : 'Not for a screen' }} <kbd>f</kbd>
    </button>
    <PickList
      v-if="list"
      :key="open"
      :label="list.label"
      :options="list.options"
      :free="list.free"
      @pick="pick"
      @close="open = undefined"
    />
  </div>
</template>

<style scoped>
.decisions {
  position: relative;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  margin-top: 16px;
  padding-top: 8px;
  border-top: 1px solid var(--rog-rule);
  font-size: 13px;
}

button[aria-pressed='true'] {
  font-weight: 600;
}
</style>

<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import RichInput from '@/ui/editor/RichInput.vue'

type AnyItem = Schemas['ReadingItemOut']['item']

/** An item written shorter for one receiver: its stem, and what students choose from, each with how much room is left. */
const props = defineProps<{ item: AnyItem; stemMost: number | null; choiceMost: number | null; busy: boolean }>()
const emit = defineEmits<{ save: [AnyItem] }>()
/** The choices of an item that has some. */
const own = (item: AnyItem) => ('choices' in item ? (item.choices ?? []) : [])
const stem = ref(props.item.stem ?? '')
const choices = ref(own(props.item).map((choice) => choice.content))

/** The characters that a student reads. */
function length(content: string): number {
  const shown = new DOMParser().parseFromString(content.replace(/<annotation[\s\S]*?<\/annotation>/g, ''), 'text/html')
  return (shown.body.textContent ?? '').replace(/\s+/g, ' ').trim().length
}
const over = (content: string, most: number | null) => (most === null ? 0 : length(content) - most)
const ready = computed(
  () => over(stem.value, props.stemMost) <= 0 && choices.value.every((content) => over(content, props.choiceMost) <= 0),
)
const changed = computed(
  () => stem.value !== props.item.stem || own(props.item).some((choice, n) => choice.content !== choices.value[n]),
)
function save(): void {
  const written = own(props.item).map((choice, n) => ({ ...choice, content: choices.value[n] ?? choice.content }))
  emit('save', { ...props.item, stem: stem.value, ...(written.length ? { choices: written } : {}) } as AnyItem)
}
const words = (content: string, most: number | null) => {
  if (most === null) return `${length(content)} characters`
  const left = most - length(content)
  return left < 0 ? `${length(content)} of ${most}, ${-left} too many` : `${length(content)} of ${most}`
}
</script>

<template>
  <form class="shorten" @submit.prevent="save">
    <h3>Written for them</h3>
    <div class="field">
      <RichInput v-model="stem" label="Stem for this receiver" />
      <span class="count" :class="{ over: over(stem, stemMost) > 0 }" role="status">{{ words(stem, stemMost) }}</span>
    </div>
    <div v-for="(_, n) in choices" :key="n" class="field">
      <RichInput v-model="choices[n]!" :label="`Choice ${String.fromCharCode(65 + n)} for this receiver`" />
      <span class="count" :class="{ over: over(choices[n]!, choiceMost) > 0 }">{{
        words(choices[n]!, choiceMost)
      }}</span>
    </div>
    <div class="row">
      <ElButton native-type="submit" :disabled="!changed" :loading="busy">Keep for this receiver</ElButton>
      <span v-if="!ready" class="soft">still too long</span>
    </div>
  </form>
</template>

<style scoped>
.shorten {
  margin-top: 12px;
  padding-top: 8px;
  border-top: 1px solid var(--rog-rule-strong);
}

h3 {
  font-size: 13.5px;
}

.field {
  margin: 6px 0;
}

.count {
  display: block;
  text-align: right;
  font-size: 12px;
  color: var(--rog-ink-soft);
  font-variant-numeric: tabular-nums;
}

.count.over {
  color: var(--rog-signal);
  font-weight: 700;
}

.row {
  gap: 12px;
}
</style>

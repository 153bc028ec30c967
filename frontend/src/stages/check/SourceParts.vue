<script setup lang="ts">
import type { Schemas } from '@/api/client'
import RichText from '@/ui/RichText.vue'
import { share } from '@/ui/scoring'

type Part = Schemas['SourcePartOut']

/** An item's source in reading order; the part that the pointer is on in the item stands out, and so does what nothing claimed. */
const props = defineProps<{ source: Schemas['PartsOut']; lit: string }>()
const emit = defineEmits<{ lines: [Part] }>()
const HEADS: Record<Part['kind'], string> = {
  title: 'Title',
  stem: 'Stem',
  choice: 'Choices',
  marking: 'What its marking gives',
  feedback: 'Feedback',
  metadata: 'Metadata',
  rest: 'Besides',
}

function startsGroup(index: number): boolean {
  return props.source.parts[index - 1]?.kind !== props.source.parts[index]?.kind
}
function place(part: Part): string {
  const spans = part.spans.map((span) => span.map((line) => line + props.source.first - 1))
  const [first] = spans[0] ?? []
  const last = spans.at(-1)?.[1]
  if (first === undefined || last === undefined) return ''
  return first === last ? `line ${first}` : `lines ${first}–${last}`
}
const isLit = (part: Part) => Boolean(props.lit) && part.field === props.lit
</script>

<template>
  <div class="parts">
    <template v-for="(part, index) in source.parts" :key="index">
      <h3 v-if="startsGroup(index)">{{ HEADS[part.kind] }}</h3>
      <div class="part" :class="{ lit: isLit(part), unclaimed: part.unclaimed, own: part.kind === 'metadata' }">
        <span v-if="part.label && part.label !== HEADS[part.kind]" class="label">{{ part.label }}</span>
        <ul v-if="part.kind === 'marking'" class="marks">
          <li v-for="mark in source.marks" :key="mark.words">
            <span>{{ mark.words }}</span> <strong>{{ share(mark.share) }}</strong>
          </li>
          <li v-if="!source.marks.length" class="faint">nothing that earns points</li>
        </ul>
        <RichText v-else-if="part.content" class="text" :content="part.content" />
        <span v-else class="faint">empty</span>
        <span v-if="part.unclaimed" class="flag">nothing claimed this</span>
        <button v-if="part.spans.length" type="button" class="link-button faint place" @click="emit('lines', part)">
          {{ place(part) }}
        </button>
      </div>
    </template>
  </div>
</template>

<style scoped>
.parts {
  padding: 4px 18px 30px;
}

h3 {
  margin: 14px 0 3px;
  font: 500 12.5px var(--rog-sans);
  color: var(--rog-ink-soft);
}

.part {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 12px;
  align-items: baseline;
  padding: 3px 8px;
  border-left: 3px solid transparent;
}

.part.own {
  grid-template-columns: 130px minmax(0, 1fr) auto;
}

.part:not(.own) .label {
  grid-column: 1 / -1;
}

.label {
  font-size: 12px;
  color: var(--rog-ink-faint);
}

.lit {
  border-color: var(--rog-ink);
  background: var(--rog-joined);
}

.unclaimed {
  border-color: var(--rog-signal);
}

.flag {
  grid-column: 1 / -1;
  font-size: 12px;
  color: var(--rog-signal);
}

.place {
  font-size: 12px;
  white-space: nowrap;
}

.marks {
  list-style: none;
  margin: 0;
  padding: 0;
}

.marks li {
  display: flex;
  justify-content: space-between;
  gap: 14px;
  font-family: var(--rog-serif);
}

.marks strong {
  font: 500 13px var(--rog-sans);
}
</style>

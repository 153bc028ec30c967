<script setup lang="ts">
import NoteField from './NoteField.vue'
import PartTools from './PartTools.vue'
import { moved, NEW_TEXT, type TextAnswer } from './types'
import WeightField from './WeightField.vue'

/** Texts that are accepted: how each is compared, whether its case counts, what it earns, its feedback. `of` says of what. */
const answers = defineModel<TextAnswer[]>({ required: true })
const props = defineProps<{ of?: string }>()
const MATCHES: Record<string, string> = { exact: 'is exactly', contains: 'is contained', regex: 'is a pattern' }
const CASES: Record<string, string> = { '': 'case as above', true: 'case counts', false: 'case does not count' }
const name = (index: number) => `${props.of ? `${props.of}, answer` : 'Answer'} ${index + 1}`

function setCase(answer: TextAnswer, event: Event): void {
  const said = (event.target as HTMLSelectElement).value
  if (said) answer.case_sensitive = said === 'true'
  else delete answer.case_sensitive
}
</script>

<template>
  <div v-for="(answer, index) in answers" :key="index" class="answer">
    <div class="typed">
      <input v-model="answer.text" class="field" :aria-label="name(index)" />
      <NoteField v-model="answer.feedback" :label="`Feedback of ${name(index).toLowerCase()}`" />
    </div>
    <select v-model="answer.match" :aria-label="`How ${name(index).toLowerCase()} is compared`">
      <option v-for="(label, match) in MATCHES" :key="match" :value="match">{{ label }}</option>
    </select>
    <select
      :value="answer.case_sensitive == null ? '' : String(answer.case_sensitive)"
      :aria-label="`Case of ${name(index).toLowerCase()}`"
      @change="setCase(answer, $event)"
    >
      <option v-for="(label, said) in CASES" :key="said" :value="said">{{ label }}</option>
    </select>
    <WeightField v-model="answer.weight" :label="`What ${name(index).toLowerCase()} earns`" />
    <PartTools
      :name="name(index).toLowerCase()"
      :index="index"
      :count="answers.length"
      movable
      @move="moved(answers, index, $event)"
      @remove="answers.splice(index, 1)"
    />
  </div>
  <button type="button" class="link-button add" @click="answers.push(NEW_TEXT())">Add an answer</button>
</template>

<style scoped>
.answer {
  display: grid;
  grid-template-columns: minmax(90px, 1fr) auto auto auto auto;
  gap: 8px;
  align-items: start;
}

.field {
  width: 100%;
  padding: 4px 9px;
  font: 16px var(--rog-serif);
  color: var(--rog-ink);
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
}

.add {
  justify-self: start;
}
</style>

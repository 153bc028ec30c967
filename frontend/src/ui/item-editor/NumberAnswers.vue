<script setup lang="ts">
import { client, ok } from '@/api/client'

import { useAsking } from '../asking'
import NumberAnswer from '../NumberAnswer.vue'

import NoteField from './NoteField.vue'
import PartTools from './PartTools.vue'
import { NEW_NUMBER, type NumericAnswer } from './types'
import WeightField from './WeightField.vue'

/** Numbers that are accepted: a value with its tolerance or a range, what it earns, its feedback. */
const answers = defineModel<NumericAnswer[]>({ required: true })
const props = defineProps<{ of?: string }>()
const name = (index: number) => `${props.of ? `${props.of}, number` : 'number'} ${index + 1}`

/** A value becomes a range, a range a value, where the same numbers can stay right: that is a rule of the job. */
const { ask } = useAsking()
function turn(before: NumericAnswer): void {
  ask(
    () => ok(client.POST('/api/item-number', { body: { answer: before } })),
    ({ answer }) => {
      const index = answers.value.indexOf(before)
      if (index >= 0) answers.value.splice(index, 1, answer)
    },
  )
}
</script>

<template>
  <div v-for="(answer, index) in answers" :key="index" class="number-answer">
    <div>
      <NumberAnswer v-model="answers[index]!" />
      <NoteField v-model="answer.feedback" :label="`Feedback of ${name(index)}`" />
    </div>
    <button type="button" class="link-button faint" @click="turn(answer)">
      {{ answer.value == null ? 'as a value' : 'as a range' }}
    </button>
    <WeightField v-model="answer.weight" :label="`What ${name(index)} earns`" />
    <PartTools :name="name(index)" :index="index" :count="answers.length" @remove="answers.splice(index, 1)" />
  </div>
  <button type="button" class="link-button add" @click="answers.push(NEW_NUMBER())">Add a number</button>
</template>

<style scoped>
.number-answer {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto auto;
  gap: 10px;
  align-items: start;
}

.add {
  justify-self: start;
}
</style>

<script setup lang="ts">
import NumberAnswer from '../NumberAnswer.vue'

import NoteField from './NoteField.vue'
import PartTools from './PartTools.vue'
import { NEW_NUMBER, type NumericAnswer } from './types'
import WeightField from './WeightField.vue'

/** Numbers that are accepted: a value with its tolerance or a range, what it earns, its feedback. */
const answers = defineModel<NumericAnswer[]>({ required: true })
const props = defineProps<{ of?: string }>()
const name = (index: number) => `${props.of ? `${props.of}, number` : 'number'} ${index + 1}`

/** A value becomes the range that its tolerance makes, a range its middle with half its width: the same numbers stay right. */
function turn(index: number): void {
  const answer = answers.value[index]
  if (!answer) return
  const rest = { weight: answer.weight, feedback: answer.feedback }
  if (answer.value != null) {
    const spread = answer.tolerance ?? 0
    answers.value[index] = {
      ...NEW_NUMBER(),
      value: null,
      tolerance: null,
      min: answer.value - spread,
      max: answer.value + spread,
      ...rest,
    }
  } else {
    const [low, high] = [answer.min ?? answer.max ?? 0, answer.max ?? answer.min ?? 0]
    answers.value[index] = { ...NEW_NUMBER(), value: (low + high) / 2, tolerance: (high - low) / 2, ...rest }
  }
}
</script>

<template>
  <div v-for="(answer, index) in answers" :key="index" class="number-answer">
    <div>
      <NumberAnswer v-model="answers[index]!" />
      <NoteField v-model="answer.feedback" :label="`Feedback of ${name(index)}`" />
    </div>
    <button type="button" class="link-button faint" @click="turn(index)">
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

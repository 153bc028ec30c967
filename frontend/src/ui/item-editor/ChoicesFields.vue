<script setup lang="ts">
import { computed } from 'vue'

import { client, ok } from '@/api/client'

import RichInput from '../editor/RichInput.vue'
import { useAsking } from '../asking'

import NoteField from './NoteField.vue'
import PartTools from './PartTools.vue'
import {
  freeName,
  isOneOfKeys,
  keyGroup,
  moved,
  newChoice,
  takeWeights,
  type AnyItem,
  type Choice,
  type ChoiceItem,
} from './types'
import WeightField from './WeightField.vue'

/** The choices of an item: which are right, what each earns or costs, its feedback, and whether they come in any order. */
const item = defineModel<ChoiceItem>({ required: true })
const single = computed(() => item.value.type === 'multiple_choice')
const choices = computed(() => item.value.choices ?? [])
const groupOf = (choice: Choice) => (single.value ? keyGroup('key', choices.value, choice) : 'key')
const weighed = computed(() => !('scoring' in item.value) || item.value.scoring === 'per_choice')

/** Asks for the item with another key: how the points are shared out is a rule of the job. */
const { ask, refused } = useAsking()
function setKey(ticked: Choice): void {
  ask(
    () => ok(client.POST('/api/item-key', { body: { item: item.value as AnyItem, right: rightWith(ticked) } })),
    ({ item: made }) => 'choices' in made && takeWeights(choices.value, made.choices),
  )
}
function rightWith(ticked: Choice): string[] {
  const right = choices.value.filter((choice) => (choice === ticked) !== (choice.weight ?? 0) > 0)
  return (single.value ? [ticked] : right).map((choice) => choice.id)
}
function add(): void {
  const id = freeName(
    'c',
    choices.value.map((choice) => choice.id),
  )
  item.value.choices = [...choices.value, newChoice(id)]
}
function setOrder(event: Event): void {
  const said = (event.target as HTMLSelectElement).value
  item.value.shuffle = said === '' ? null : said === 'true'
}
</script>

<template>
  <span class="caption">Choices, the key ticked</span>
  <div v-for="(choice, index) in choices" :key="choice.id" class="choice">
    <input
      :key="`${refused} ${groupOf(choice)}`"
      :type="single ? 'radio' : 'checkbox'"
      :name="groupOf(choice)"
      :checked="(choice.weight ?? 0) > 0"
      :aria-label="`Choice ${index + 1} is right`"
      @change="setKey(choice)"
      @click="single && isOneOfKeys(choices, choice) && setKey(choice)"
    />
    <div class="content">
      <RichInput v-model="choice.content" :label="`Choice ${index + 1}`" />
      <NoteField v-model="choice.feedback" :label="`Feedback of choice ${index + 1}`" />
    </div>
    <WeightField v-if="weighed" v-model="choice.weight" :label="`What choice ${index + 1} earns`" />
    <span v-else />
    <PartTools
      :name="`choice ${index + 1}`"
      :index="index"
      :count="choices.length"
      movable
      @move="moved(choices, index, $event)"
      @remove="choices.splice(index, 1)"
    />
  </div>
  <div class="row">
    <button type="button" class="link-button" @click="add">Add a choice</button>
    <label class="order"
      >Order
      <select
        :value="item.shuffle == null ? '' : String(item.shuffle)"
        aria-label="Order of the choices"
        @change="setOrder"
      >
        <option value="">as the quiz says</option>
        <option value="true">shuffled</option>
        <option value="false">always as here</option>
      </select></label
    >
  </div>
</template>

<style scoped>
.choice {
  display: grid;
  grid-template-columns: 18px minmax(0, 1fr) auto auto;
  gap: 8px;
  align-items: start;
}

.choice > input {
  margin-top: 9px;
}

.content {
  min-width: 0;
}

.order {
  margin-left: auto;
}
</style>

<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { WORDS } from '@/ui/words'

import { useReadAgain } from './useReadAgain'

type Options = Schemas['ReadOptionsIn']
type About = Schemas['HabitOut']['about']

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; reading: Schemas['ReadingOut'] }>()
const again = useReadAgain(() => props.course)
const TITLES: Record<About, string> = { numbering: 'Questions', lettering: 'Choices', aside: 'Set aside' }
const busy = computed(() => again.isPending.value)
const byHand = computed(() => Object.keys(props.reading.roles).length)

function read(options: Options): void {
  again.mutate({ reading: props.reading, options })
}
const chosen = (event: Event) => (event.target as HTMLSelectElement).value
const say = (about: About, event: Event) => read({ [about]: chosen(event) })
const sayKey = (event: Event) => read({ key_habit: chosen(event) as NonNullable<Options['key_habit']> })
</script>

<template>
  <ElDialog v-model="open" title="How this document was read" width="720" append-to-body>
    <p class="soft">What is said here holds for the whole document, which is read again with it.</p>
    <dl>
      <template v-for="habit in reading.habits" :key="habit.about">
        <dt>{{ TITLES[habit.about] }}</dt>
        <dd>
          <span>{{ habit.words }}</span>
          <select
            v-if="habit.others.length || habit.said"
            :aria-label="`${TITLES[habit.about]}: read them otherwise`"
            :value="habit.said"
            :disabled="busy"
            @change="say(habit.about, $event)"
          >
            <option value="">as it was found</option>
            <option v-for="[value, words] in habit.others" :key="value" :value="value">{{ words }}</option>
            <option v-if="habit.said && !habit.others.some(([value]) => value === habit.said)" :value="habit.said">
              as it is said by hand
            </option>
          </select>
        </dd>
      </template>
      <dt>Key</dt>
      <dd>
        <span>{{ reading.key_found || 'Shown by letters, marks or words, where there is one' }}</span>
        <select aria-label="Key: shown by" :value="reading.key_habit" :disabled="busy" @change="sayKey">
          <option v-for="(label, habit) in WORDS.key_habits" :key="habit" :value="habit">{{ label }}</option>
        </select>
      </dd>
      <template v-if="byHand">
        <dt>By hand</dt>
        <dd>
          <span>{{ byHand === 1 ? '1 line is' : `${byHand} lines are` }} read as you said</span>
          <button type="button" class="link-button" :disabled="busy" @click="read({ roles: {} })">
            Read all as found
          </button>
        </dd>
      </template>
    </dl>
    <template #footer>
      <ElButton v-if="again.canGoBack(reading)" :disabled="busy" @click="again.goBack(reading)"
        >Read it as before</ElButton
      >
      <ElButton type="primary" @click="open = false">Close</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 110px minmax(0, 1fr);
  margin: 0;
}

dt,
dd {
  margin: 0;
  padding: 10px 0;
  border-top: 1px solid var(--rog-rule);
}

dt {
  font-weight: 600;
}

dd {
  display: flex;
  gap: 16px;
  align-items: baseline;
  justify-content: space-between;
}

select {
  max-width: 240px;
  flex: none;
}
</style>

<script setup lang="ts">
import { computed, ref } from 'vue'

import { positiveOf, wholeOf } from '@/ui/numbers'
import TypedField from '@/ui/TypedField.vue'

import MomentField from './MomentField.vue'
import type { Settings } from './useQuiz'
import { MOMENTS } from './words'

/** Sections with their own dates, and exceptions for students: more time, dates of their own, more attempts. */
const props = defineProps<{ settings: Settings; zone: string; known: string[] }>()
const emit = defineEmits<{ set: [Partial<Settings>] }>()
type Section = NonNullable<Settings['sections']>[number]
type Exception = NonNullable<Settings['exceptions']>[number]

const sections = computed(() => props.settings.sections ?? [])
const exceptions = computed(() => props.settings.exceptions ?? [])
const free = computed(() => props.known.filter((name) => !sections.value.some(({ section }) => section === name)))
const student = ref('')

const orNothing = <T,>(list: T[]) => (list.length ? list : null)
function setSection(place: number, change: Partial<Section> | null): void {
  const list = sections.value.flatMap((row, n) => (n !== place ? [row] : change ? [{ ...row, ...change }] : []))
  emit('set', { sections: orNothing(list) })
}
function setException(place: number, change: Partial<Exception> | null): void {
  const list = exceptions.value.flatMap((row, n) => (n !== place ? [row] : change ? [{ ...row, ...change }] : []))
  emit('set', { exceptions: orNothing(list) })
}
function addSection(event: Event): void {
  const field = event.target as HTMLSelectElement
  if (field.value) emit('set', { sections: [...sections.value, { section: field.value }] })
  field.value = ''
}
function addException(): void {
  const name = student.value.trim()
  if (name) emit('set', { exceptions: [...exceptions.value, { student: name, section: '', time_factor: 1.5 }] })
  student.value = ''
}
</script>

<template>
  <table v-if="sections.length">
    <caption class="visually-hidden">
      Sections with their own dates
    </caption>
    <tbody>
      <tr v-for="(row, place) in sections" :key="row.section">
        <th scope="row">{{ row.section }}</th>
        <td v-for="(words, name) in MOMENTS" :key="name">
          <MomentField
            :model-value="row[name]"
            :end="name !== 'opens'"
            :zone="zone"
            :label="`${row.section} ${words.toLowerCase()}`"
            :placeholder="words.toLowerCase() + ' as the quiz'"
            @update:model-value="(moment) => setSection(place, { [name]: moment })"
          />
        </td>
        <td>
          <button type="button" class="link-button faint" @click="setSection(place, null)">
            <span aria-hidden="true">×</span
            ><span class="visually-hidden">No dates of its own for {{ row.section }}</span>
          </button>
        </td>
      </tr>
    </tbody>
  </table>
  <p class="row">
    <select v-if="free.length" value="" aria-label="Dates of their own for a section" @change="addSection">
      <option value="">Other dates for a section…</option>
      <option v-for="name in free" :key="name" :value="name">{{ name }}</option>
    </select>
    <span v-else-if="!known.length" class="soft">The course has no sections; name them on its page.</span>
  </p>
  <h3>Exceptions</h3>
  <div v-for="(row, place) in exceptions" :key="row.student" class="exception">
    <div class="row">
      <strong>{{ row.student }}</strong>
      <select
        :value="row.section ?? ''"
        :aria-label="`Section of ${row.student}`"
        @change="setException(place, { section: ($event.target as HTMLSelectElement).value })"
      >
        <option value="">no section</option>
        <option v-for="name in known" :key="name" :value="name">{{ name }}</option>
      </select>
      <label
        >time ×
        <TypedField
          :model-value="row.time_factor"
          class="short"
          inputmode="decimal"
          placeholder="1"
          :aria-label="`Factor of time for ${row.student}`"
          @update:model-value="(typed) => setException(place, { time_factor: positiveOf(typed) })"
      /></label>
      <label
        >attempts
        <TypedField
          :model-value="row.attempts"
          class="short"
          inputmode="numeric"
          placeholder="as all"
          :aria-label="`Attempts of ${row.student}`"
          @update:model-value="(typed) => setException(place, { attempts: wholeOf(typed) })"
      /></label>
      <button type="button" class="link-button faint end" @click="setException(place, null)">No exception</button>
    </div>
    <div class="window">
      <MomentField
        v-for="(words, name) in MOMENTS"
        :key="name"
        :model-value="row[name]"
        :end="name !== 'opens'"
        :zone="zone"
        :label="`${row.student} ${words.toLowerCase()}`"
        :placeholder="words.toLowerCase() + ' as all'"
        @update:model-value="(moment) => setException(place, { [name]: moment })"
      />
    </div>
  </div>
  <form class="row" @submit.prevent="addException">
    <ElInput v-model="student" class="name" aria-label="Name of a student" placeholder="Name of a student" />
    <ElButton native-type="submit" :disabled="!student.trim()">Make an exception</ElButton>
  </form>
</template>

<style scoped>
h3 {
  margin: 16px 0 6px;
}

table {
  width: 100%;
}

th {
  text-align: left;
  padding-right: 12px;
  font-weight: 600;
}

td {
  padding: 3px 6px 3px 0;
}

.exception {
  padding: 8px 0;
  border-top: 1px solid var(--rog-rule);
}

.exception .row {
  gap: 14px;
}

.window {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px;
  margin: 6px 0;
}

.short {
  width: 58px;
}

.end {
  margin-left: auto;
}

.name {
  width: 220px;
}
</style>

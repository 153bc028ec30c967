<script setup lang="ts">
import { computed } from 'vue'

import { positiveOf, wholeOf } from '@/ui/numbers'
import RichText from '@/ui/RichText.vue'
import TypedField from '@/ui/TypedField.vue'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import MomentField from './MomentField.vue'
import PatternBar from './PatternBar.vue'
import PeopleDates from './PeopleDates.vue'
import ReleaseField from './ReleaseField.vue'
import SettingsMeaning from './SettingsMeaning.vue'
import type { Quiz, QuizWork, Settings } from './useQuiz'
import { COUNTS, LATE, MOMENTS, NAVIGATION, RELEASE, RELEASED, SHOWN, SUBMISSION, TIME_UP } from './words'

/** The settings of a quiz as a whole; beside them what they mean in words, and what is worth a second look. */
const props = defineProps<{ quiz: Quiz; work: QuizWork }>()
const course = useCourse()
const { mayEdit, course: detail } = useRole(course)
const settings = computed(() => props.quiz.settings)
const zone = computed(() => props.quiz.zone)
const known = computed(() => detail.value?.sections.map(({ name }) => name) ?? [])
const set = (change: Partial<Settings>) => props.work.set(change)

const chosen = (event: Event) => (event.target as HTMLSelectElement).value || null
type Choice = { name: 'shown' | 'navigation' | 'submission'; label: string; words: Record<string, string> }
const CHOICES: Choice[] = [
  { name: 'shown', label: 'Items come', words: SHOWN },
  { name: 'navigation', label: 'A way back', words: NAVIGATION },
  { name: 'submission', label: 'Answers are handed in', words: SUBMISSION },
]
const FLAGS = [
  ['shuffle_parts', 'Parts in random order'],
  ['shuffle_items', 'Items in random order'],
  ['shuffle_choices', 'Choices in random order'],
] as const
const percent = (share: number) => `${Math.round(share * 100)} %`
function reached({ least, below }: NonNullable<Settings['feedback']>[number]): string {
  if (least != null && below != null) return `from ${percent(least)} to under ${percent(below)}`
  if (least != null) return `from ${percent(least)} on`
  return below != null ? `under ${percent(below)}` : 'to all'
}
function forget(index: number): void {
  const rest = (settings.value.feedback ?? []).filter((_, n) => n !== index)
  set({ feedback: rest.length ? rest : null })
}
/** What a moment begins with where none was said: after the quiz closes, else tomorrow. */
const later = computed(() => settings.value.closes ?? new Date(Date.now() + 86_400_000).toISOString())
const usual = (name: keyof typeof RELEASED) => RELEASE[name === 'show_key' ? 'never' : 'on submitting']
/** Attempts: 0 stands for any number. */
const attempts = computed(() => (settings.value.attempts === 0 ? 'any' : (settings.value.attempts ?? '')))
</script>

<template>
  <div class="with-aside">
    <fieldset :disabled="!mayEdit" class="whole">
      <PatternBar v-if="mayEdit" :quiz="quiz" :work="work" :course="course" />
      <section aria-labelledby="when">
        <h2 id="when">
          When <span class="faint zone">{{ zone }}</span>
        </h2>
        <div class="window">
          <label v-for="(words, name) in MOMENTS" :key="name"
            >{{ words }}
            <MomentField
              :model-value="settings[name]"
              :end="name !== 'opens'"
              :zone="zone"
              :label="words"
              @update:model-value="(moment) => set({ [name]: moment })"
          /></label>
        </div>
        <div class="grid">
          <label for="late">Late work</label>
          <span class="row">
            <select id="late" :value="settings.late ?? ''" @change="set({ late: chosen($event) as Settings['late'] })">
              <option value="">not said</option>
              <option v-for="(words, value) in LATE" :key="value" :value="value">{{ words }}</option>
            </select>
            <label v-if="settings.late === 'with a deduction'"
              ><TypedField
                :model-value="settings.late_deduction ? settings.late_deduction * 100 : ''"
                class="short"
                inputmode="decimal"
                aria-label="Per cent of the marks that each late day costs"
                @update:model-value="(typed) => set({ late_deduction: (positiveOf(typed) ?? 0) / 100 })"
              />
              % each day</label
            >
          </span>
        </div>
        <h3>Sections</h3>
        <PeopleDates :settings="settings" :zone="zone" :known="known" @set="set" />
      </section>

      <section aria-labelledby="attempts-head">
        <h2 id="attempts-head">Attempts and time</h2>
        <div class="grid">
          <label for="attempts">Attempts</label>
          <span class="row">
            <TypedField
              id="attempts"
              :model-value="attempts"
              class="short"
              placeholder="1"
              @update:model-value="(typed) => set({ attempts: typed.trim() === 'any' ? 0 : wholeOf(typed) })"
            />
            <button type="button" class="link-button" @click="set({ attempts: 0 })">any number</button>
            <select
              aria-label="Of several attempts"
              :value="settings.counts ?? ''"
              @change="set({ counts: chosen($event) as Settings['counts'] })"
            >
              <option value="">which counts: not said</option>
              <option v-for="(word, key) in COUNTS" :key="key" :value="key">{{ word }}</option>
            </select>
          </span>
          <label for="pause">Pause between them</label>
          <span class="row"
            ><TypedField
              id="pause"
              :model-value="settings.pause"
              class="short"
              inputmode="numeric"
              placeholder="none"
              @update:model-value="(typed) => set({ pause: positiveOf(typed) })"
            />
            minutes</span
          >
          <label for="time">Time limit</label>
          <span class="row"
            ><TypedField
              id="time"
              :model-value="settings.time_limit"
              class="short"
              inputmode="numeric"
              placeholder="none"
              aria-label="Time limit, minutes"
              @update:model-value="(typed) => set({ time_limit: positiveOf(typed) })"
            />
            minutes
            <select
              aria-label="When time is up"
              :value="settings.time_up ?? ''"
              @change="set({ time_up: chosen($event) as Settings['time_up'] })"
            >
              <option value="">when it is over: not said</option>
              <option v-for="(word, key) in TIME_UP" :key="key" :value="key">{{ word }}</option>
            </select></span
          >
          <span class="label">Sitting</span>
          <label class="row"
            ><input
              type="checkbox"
              :checked="settings.one_sitting ?? false"
              @change="set({ one_sitting: !settings.one_sitting })"
            />
            made in one sitting: leaving, or a lost connection, ends it</label
          >
          <label for="code">Access code</label>
          <TypedField
            id="code"
            :model-value="settings.access_code"
            class="code"
            placeholder="none"
            autocomplete="off"
            @update:model-value="(typed) => set({ access_code: typed.trim() || null })"
          />
        </div>
      </section>

      <section aria-labelledby="way">
        <h2 id="way">The way through it</h2>
        <div class="grid">
          <template v-for="choice in CHOICES" :key="choice.name">
            <label :for="choice.name">{{ choice.label }}</label>
            <select
              :id="choice.name"
              :value="settings[choice.name] ?? ''"
              @change="set({ [choice.name]: chosen($event) })"
            >
              <option value="">not said</option>
              <option v-for="(word, value) in choice.words" :key="value" :value="value">{{ word }}</option>
            </select>
          </template>
          <label for="skipping">Without an answer</label>
          <select
            id="skipping"
            :value="String(settings.skipping ?? '')"
            @change="set({ skipping: chosen($event) === null ? null : chosen($event) === 'true' })"
          >
            <option value="">not said</option>
            <option value="true">one may go on</option>
            <option value="false">one may not go on</option>
          </select>
          <span class="label">Order</span>
          <span class="flags">
            <label v-for="[name, words] in FLAGS" :key="name" class="row"
              ><input
                type="checkbox"
                :checked="settings[name] ?? name === 'shuffle_choices'"
                @change="set({ [name]: !(settings[name] ?? name === 'shuffle_choices') })"
              />
              {{ words }}</label
            >
          </span>
        </div>
      </section>

      <section aria-labelledby="afterwards">
        <h2 id="afterwards">What students see of it, and when</h2>
        <div class="grid">
          <template v-for="(words, name) in RELEASED" :key="name">
            <span class="label">{{ words }}</span>
            <ReleaseField
              :model-value="settings[name]"
              :label="words.toLowerCase()"
              :zone="zone"
              :usual="usual(name)"
              :later="later"
              @update:model-value="(release) => set({ [name]: release })"
            />
          </template>
        </div>
        <div v-for="(entry, index) in settings.feedback ?? []" :key="index" class="feedback">
          <span class="faint">At the end, {{ reached(entry) }}</span>
          <RichText :content="entry.content" />
          <button type="button" class="link-button faint" @click="forget(index)">Remove</button>
        </div>
      </section>
    </fieldset>
    <SettingsMeaning :quiz="quiz" :may-edit="mayEdit" @set="set" />
  </div>
</template>

<style scoped>
.whole {
  border: 0;
  margin: 0;
  min-width: 0;
}

section {
  margin-top: 22px;
}

section h2 {
  padding-bottom: 4px;
  border-bottom: 1px solid var(--rog-rule-strong);
}

.zone {
  font: 13px var(--rog-sans);
  margin-left: 8px;
}

h3 {
  margin: 14px 0 4px;
}

.window {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 10px;
  margin: 10px 0;
}

.window label {
  display: grid;
  align-content: start;
  gap: 3px;
}

.grid {
  display: grid;
  grid-template-columns: 170px minmax(0, 1fr);
  gap: 9px 14px;
  align-items: center;
  margin: 10px 0;
}

.grid > label,
.grid > .label {
  color: var(--rog-ink-soft);
}

.whole :deep(input:not([type='checkbox'], [type='radio'], .el-input__inner, .el-select__input)) {
  font: inherit;
  color: inherit;
  background-color: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  padding: 3px 8px;
  min-width: 0;
}

.short {
  width: 74px;
}

.code {
  width: 180px;
}

.grid select {
  justify-self: start;
}

.flags {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
}

.feedback {
  margin-top: 10px;
  padding-left: 12px;
  border-left: 2px solid var(--rog-rule-strong);
}
</style>

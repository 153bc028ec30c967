<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import RichText from '@/ui/RichText.vue'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

const { mayEdit } = useRole(useCourse())

type Settings = Schemas['Settings']

const props = defineProps<{ settings: Settings }>()
const emit = defineEmits<{ change: [Settings] }>()

function set<K extends keyof Settings>(name: K, value: Settings[K]): void {
  emit('change', { ...props.settings, [name]: value })
}
function numberOrNone(event: Event): number | null {
  const value = Number((event.target as HTMLInputElement).value)
  return value > 0 ? Math.round(value) : null
}
const chosen = (event: Event) => (event.target as HTMLSelectElement).value || null
/** Attempts: 0 stands for any number, which an empty field says. */
function attempts(event: Event): number {
  return numberOrNone(event) ?? 0
}
/** The words of a setting's values: a value that is new in the core wants its word here. */
type Words<K extends keyof Settings> = Record<NonNullable<Settings[K]> & string, string>
const COUNTS: Words<'counts'> = {
  best: 'the best counts',
  last: 'the last counts',
  first: 'the first counts',
  average: 'the average counts',
}
const RELEASE: Words<'release'> = {
  nothing: 'nothing',
  marks: 'marks only',
  feedback: 'marks and feedback',
  everything: 'marks, feedback and the key',
}
type Way = { name: 'navigation' | 'submission' | 'skipping' | 'review'; label: string; words: Record<string, string> }
const WAYS: Way[] = [
  { name: 'navigation', label: 'Items come', words: { free: 'in any way', 'in order': 'one after the other' } },
  { name: 'submission', label: 'Handed in', words: { 'at the end': 'at the end', 'item by item': 'item by item' } },
  { name: 'skipping', label: 'Skipping', words: { true: 'allowed', false: 'not allowed' } },
  { name: 'review', label: 'Looking back', words: { true: 'allowed', false: 'not allowed' } },
]
const said = computed(() => WAYS.some((way) => props.settings[way.name] != null))
function setWay(way: Way, event: Event): void {
  const value = (event.target as HTMLSelectElement).value
  const flag = way.name === 'skipping' || way.name === 'review'
  set(way.name, (value === '' ? null : flag ? value === 'true' : value) as never)
}
const percent = (share: number) => `${Math.round(share * 100)} %`
function reached({ least, below }: Schemas['ScoreFeedback']): string {
  if (least != null && below != null) return `from ${percent(least)} to under ${percent(below)}`
  if (least != null) return `from ${percent(least)} on`
  return below != null ? `under ${percent(below)}` : 'to all'
}
function forget(index: number): void {
  const rest = (props.settings.feedback ?? []).filter((_, n) => n !== index)
  set('feedback', rest.length ? rest : null)
}
const local = (iso: string | null | undefined) => (iso ? iso.slice(0, 16) : '')
const moment = (event: Event) => {
  const value = (event.target as HTMLInputElement).value
  return value ? `${value}:00Z` : null
}
</script>

<template>
  <section>
    <h2>Settings</h2>
    <fieldset class="whole" :disabled="!mayEdit">
      <div class="grid">
        <label for="time">Time limit, minutes</label>
        <input
          id="time"
          :value="settings.time_limit ?? ''"
          inputmode="numeric"
          placeholder="none"
          @change="set('time_limit', numberOrNone($event))"
        />
        <label for="attempts">Attempts</label>
        <input
          id="attempts"
          :value="settings.attempts || ''"
          inputmode="numeric"
          :placeholder="settings.attempts === 0 ? 'any number' : 'not said'"
          @change="set('attempts', attempts($event))"
        />
        <label for="counts">Of several attempts</label>
        <select
          id="counts"
          :value="settings.counts ?? ''"
          @change="set('counts', chosen($event) as Settings['counts'])"
        >
          <option value="">not said</option>
          <option v-for="(word, key) in COUNTS" :key="key" :value="key">{{ word }}</option>
        </select>
        <label for="opens">Opens (UTC)</label>
        <input id="opens" type="datetime-local" :value="local(settings.opens)" @change="set('opens', moment($event))" />
        <label for="closes">Closes (UTC)</label>
        <input
          id="closes"
          type="datetime-local"
          :value="local(settings.closes)"
          @change="set('closes', moment($event))"
        />
        <label for="release">Students see</label>
        <select
          id="release"
          :value="settings.release ?? ''"
          @change="set('release', chosen($event) as Settings['release'])"
        >
          <option value="">not said</option>
          <option v-for="(word, key) in RELEASE" :key="key" :value="key">{{ word }}</option>
        </select>
        <label for="when">They see it</label>
        <select
          id="when"
          :value="settings.release_when ?? ''"
          @change="set('release_when', chosen($event) as Settings['release_when'])"
        >
          <option value="">not said</option>
          <option>at once</option>
          <option>after closing</option>
        </select>
      </div>
      <label class="check">
        <input
          type="checkbox"
          :checked="settings.shuffle_items ?? false"
          @change="set('shuffle_items', !settings.shuffle_items)"
        />
        Items in random order
      </label>
      <label class="check">
        <input
          type="checkbox"
          :checked="settings.shuffle_choices ?? true"
          @change="set('shuffle_choices', !(settings.shuffle_choices ?? true))"
        />
        Choices in random order
      </label>
      <details :open="said">
        <summary>The way through it</summary>
        <div class="grid">
          <template v-for="way in WAYS" :key="way.name">
            <label :for="way.name">{{ way.label }}</label>
            <select :id="way.name" :value="String(settings[way.name] ?? '')" @change="setWay(way, $event)">
              <option value="">not said</option>
              <option v-for="(word, value) in way.words" :key="value" :value="value">{{ word }}</option>
            </select>
          </template>
        </div>
      </details>
      <div v-for="(entry, index) in settings.feedback ?? []" :key="index" class="feedback">
        <span class="faint">At the end, {{ reached(entry) }}</span>
        <RichText :content="entry.content" />
        <button type="button" class="link-button faint" @click="forget(index)">Remove</button>
      </div>
    </fieldset>
  </section>
</template>

<style scoped>
section {
  margin-top: 30px;
}

.whole {
  border: 0;
  margin: 0;
  padding: 0;
  min-width: 0;
}

.grid {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 7px 14px;
  align-items: center;
  margin: 10px 0;
}

label {
  color: var(--rog-ink-soft);
}

input:not([type='checkbox']),
select {
  font: inherit;
  color: inherit;
  background-color: var(--rog-sheet);
  border: 1px solid var(--rog-rule-strong);
  border-radius: 2px;
  padding: 3px 8px;
  min-width: 0;
}

.check {
  display: block;
  padding: 2px 0;
}

summary {
  margin-top: 8px;
  cursor: pointer;
}

.feedback {
  margin-top: 10px;
  padding-left: 12px;
  border-left: 2px solid var(--rog-rule-strong);
}

/* Room for the arrow of the list. */
select {
  padding-right: 26px;
}
</style>

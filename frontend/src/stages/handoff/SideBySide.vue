<script setup lang="ts">
import type { Schemas } from '@/api/client'

import { WORDS } from '@/ui/words'

import StandingMark from './StandingMark.vue'
import { STANDINGS, type Line } from './useForecast'

/** Receivers side by side: what each will make of what is chosen. A line shows as soon as it is known. */
defineProps<{
  receivers: Schemas['ReceiverOut'][]
  lineOf: (key: string) => Line | undefined
  /** Where the matrix of a receiver is; nowhere while several things are chosen. */
  linkTo: (line: Line) => Record<string, unknown> | undefined
}>()
const chosen = defineModel<string[]>({ required: true })
const HEADS: Record<string, string> = {
  same: 'same',
  added: 'added',
  recast: 'recast',
  changed: 'changed',
  lost: 'lost',
  refused: 'not taken',
}
/** What of items goes or changes, the most first: the facets with how many items; of what students see, or of the rest. */
function losses(line: Line, own: boolean): string {
  const found = Object.entries(line.facets)
    .filter(([facet]) => WORDS.own_facets.includes(facet) === own)
    .map(([facet, sums]) => [facet, (sums.lost ?? 0) + (sums.changed ?? 0)] as const)
    .filter(([, count]) => count)
    .sort((a, b) => b[1] - a[1])
  return found.map(([facet, count]) => `${facet} of ${count}`).join(', ')
}
function toggle(key: string): void {
  chosen.value = chosen.value.includes(key) ? chosen.value.filter((name) => name !== key) : [...chosen.value, key]
}
</script>

<template>
  <table class="side">
    <caption class="visually-hidden">
      What each receiver will make of what is chosen
    </caption>
    <thead>
      <tr class="over">
        <th colspan="2" />
        <th :colspan="STANDINGS.length" scope="colgroup">What students see and how it is marked</th>
        <td />
      </tr>
      <tr>
        <th scope="col">Receiver</th>
        <th scope="col">Best as</th>
        <th v-for="standing in STANDINGS" :key="standing" scope="col" class="sum">{{ HEADS[standing] }}</th>
        <td />
      </tr>
    </thead>
    <tbody>
      <tr v-for="receiver in receivers" :key="receiver.key" :class="{ chosen: chosen.includes(receiver.key) }">
        <th scope="row">
          <label>
            <input type="checkbox" :checked="chosen.includes(receiver.key)" @change="toggle(receiver.key)" />
            <span>
              <strong>{{ receiver.title }}</strong>
              <span v-if="receiver.id" class="faint"> yours</span>
              <span class="soft about">{{ receiver.about }}</span>
              <span v-if="lineOf(receiver.key) && losses(lineOf(receiver.key)!, false)" class="losses">
                Different for students: {{ losses(lineOf(receiver.key)!, false) }}
              </span>
              <span v-if="lineOf(receiver.key) && losses(lineOf(receiver.key)!, true)" class="soft losses">
                Only you see: {{ losses(lineOf(receiver.key)!, true) }}
              </span>
            </span>
          </label>
        </th>
        <template v-if="lineOf(receiver.key)">
          <td class="best">
            {{ lineOf(receiver.key)!.label }}
            <span class="soft because">{{ lineOf(receiver.key)!.because }}</span>
          </td>
          <td v-for="standing in STANDINGS" :key="standing" class="sum">
            <StandingMark
              v-if="lineOf(receiver.key)!.for_students[standing]"
              :standing="standing"
              bare
              :count="lineOf(receiver.key)!.for_students[standing]"
            />
            <span v-else class="none" aria-label="none">·</span>
          </td>
          <td class="look">
            <RouterLink v-if="linkTo(lineOf(receiver.key)!)" :to="linkTo(lineOf(receiver.key)!)!"
              >Item by item</RouterLink
            >
          </td>
        </template>
        <td v-else :colspan="STANDINGS.length + 2" class="faint">working it out…</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.side {
  width: 100%;
  border-collapse: collapse;
  background: var(--rog-sheet);
  border: 1px solid var(--rog-rule);
}

th,
td {
  padding: 5px 10px;
  border-bottom: 1px solid var(--rog-rule);
  text-align: left;
  vertical-align: top;
  font-weight: 400;
}

thead th {
  font-size: 12px;
  color: var(--rog-ink-soft);
  vertical-align: bottom;
}

thead .over > * {
  padding-bottom: 0;
  border-bottom: 0;
}

thead .sum {
  width: 66px;
  line-height: 1.25;
}

tr.chosen {
  background: var(--rog-joined);
}

tr.chosen .faint {
  color: var(--rog-ink-soft);
}

label {
  display: flex;
  gap: 10px;
  align-items: baseline;
  cursor: pointer;
}

strong {
  font: 600 15.5px var(--rog-serif);
}

.about,
.because {
  display: block;
  font-size: 12.5px;
  line-height: 1.35;
}

tr:not(.chosen) .about {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 1;
  line-clamp: 1;
  overflow: hidden;
}

.best {
  width: 232px;
}

.losses {
  display: block;
  font-size: 12.5px;
}

.none {
  color: var(--rog-rule-strong);
}

.look {
  white-space: nowrap;
}

input {
  accent-color: var(--rog-ink);
}
</style>

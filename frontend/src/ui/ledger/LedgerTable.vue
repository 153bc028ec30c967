<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'

import { WORDS } from '../words'

import VerdictMark from './VerdictMark.vue'
import { SIDES, type Side } from './sides'
import TwoSums from './TwoSums.vue'
import { worstFirst, worstOf, type Verdict } from './verdicts'

type Entry = Schemas['LedgerItem'] | Schemas['LedgerQuiz']

/** A ledger: its quizzes, its items facet by facet, and what differs in the one that is open; `sides` are what the two are called. */
const props = defineProps<{ ledger: Schemas['Ledger']; sides: [string, string] }>()
const only = ref<{ side: Side; name: string }>()
const open = ref<Entry>()
const home = ref<HTMLElement>()
const ordered = computed(() => worstFirst(props.ledger.items ?? [], WORDS.verdicts as Verdict[]))
const rows = computed(() => {
  const wanted = only.value
  return wanted ? ordered.value.filter((entry) => entry[SIDES[wanted.side].of] === wanted.name) : ordered.value
})
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => home.value ?? null,
    estimateSize: () => 31,
    overscan: 20,
  })),
)
const sums = computed(() => ({ students: { ...props.ledger.for_students }, you: { ...props.ledger.for_you } }))
const quizzes = computed(() => props.ledger.quizzes ?? [])
/** The facets of a quiz that differ, in words. */
const differing = (quiz: Schemas['LedgerQuiz']) =>
  Object.entries(quiz.facets).filter(([, verdict]) => verdict !== 'same')
const verdictOf = (entry: Entry, facet: string) => (entry.facets as Partial<Record<string, string>>)[facet] ?? 'same'
const facetWord = (facet: string) => WORDS.quiz_facets[facet] ?? facet
</script>

<template>
  <div class="ledger-table">
    <section v-if="quizzes.length" class="quizzes" aria-label="Quizzes">
      <div v-for="quiz in quizzes" :key="quiz.a + quiz.b" class="quiz">
        <button type="button" class="plain-button name" @click="open = quiz">
          <VerdictMark :verdict="worstOf(quiz.facets)" /> Quiz {{ quiz.title }}
        </button>
        <span v-if="!differing(quiz).length" class="faint"
          >the same in all of its {{ Object.keys(quiz.facets).length }} facets</span
        >
        <span v-for="[facet, verdict] in differing(quiz)" :key="facet" class="differs"
          ><VerdictMark :verdict="verdict" /> {{ facetWord(facet) }} {{ verdict }}</span
        >
      </div>
    </section>
    <TwoSums
      :total="ledger.items?.length ?? 0"
      :order="WORDS.verdicts"
      :sums="sums"
      :only="only"
      @show="(wanted) => (only = wanted)"
    >
      <template #default="{ of, count }"><VerdictMark :verdict="of" :count="count" /></template>
    </TwoSums>
    <div class="panes" :class="{ reading: open }">
      <div ref="home" class="table" role="grid" aria-label="Ledger" tabindex="0">
        <div class="line head" role="row">
          <span role="columnheader">Item</span>
          <span
            v-for="facet in WORDS.facets"
            :key="facet"
            role="columnheader"
            class="facet"
            :class="{ own: WORDS.own_facets.includes(facet) }"
            >{{ facet }}</span
          >
        </div>
        <div :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
          <div
            v-for="row in virtual.getVirtualItems()"
            :key="row.index"
            role="row"
            class="line body"
            :class="{ open: open === rows[row.index] }"
            :style="{ transform: `translateY(${row.start}px)` }"
            @click="open = rows[row.index]"
          >
            <span role="gridcell" class="name">
              <button type="button" class="plain-button" @click.stop="open = rows[row.index]">
                {{ rows[row.index]!.title }}
              </button>
            </span>
            <span
              v-for="facet in WORDS.facets"
              :key="facet"
              role="gridcell"
              class="facet"
              :class="{ own: WORDS.own_facets.includes(facet) }"
            >
              <VerdictMark :verdict="verdictOf(rows[row.index]!, facet)" />
            </span>
          </div>
        </div>
      </div>
      <aside v-if="open" class="notes" aria-label="What differs">
        <div class="row spread">
          <h2>{{ open.title }}</h2>
          <button type="button" class="link-button" @click="open = undefined">Close</button>
        </div>
        <p v-if="!open.notes?.length" class="soft">Every facet is the same, and all probes marked alike.</p>
        <section v-for="note in open.notes" :key="note.facet + note.code">
          <h3><VerdictMark :verdict="verdictOf(open, note.facet)" /> {{ facetWord(note.facet) }}</h3>
          <p>{{ note.message }}</p>
          <dl v-if="note.a || note.b">
            <div>
              <dt>{{ sides[0] }}</dt>
              <dd>{{ note.a || 'nothing' }}</dd>
            </div>
            <div>
              <dt>{{ sides[1] }}</dt>
              <dd>{{ note.b || 'nothing' }}</dd>
            </div>
          </dl>
        </section>
      </aside>
    </div>
  </div>
</template>

<style scoped src="@/ui/ledger/facets.css" />

<style scoped>
.panes {
  grid-row: -2;

  --name: 180px;
  --facet: 60px;
}

.panes.reading {
  --name: 140px;
  --facet: 51px;
}

.head {
  height: 30px;
}

.name {
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}

.ledger-table {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  flex: 1;
  min-height: 0;
}

.quizzes {
  padding: 0 20px 8px;
}

.quiz {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  align-items: baseline;
  padding: 3px 0;
}

.differs {
  font-size: 13px;
  color: var(--rog-ink-soft);
}

.reading .head {
  font-size: 10.5px;
}

.name button {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
}

.notes {
  overflow: auto;
  padding: 14px 18px;
  border-left: 1px solid var(--rog-rule);
}

.notes h2 {
  font-size: 16px;
}

.notes section {
  margin-top: 14px;
}

.notes p {
  margin: 2px 0 6px;
}

dl {
  margin: 0;
}

dl div {
  display: grid;
  grid-template-columns: 88px minmax(0, 1fr);
  padding: 3px 0;
  border-top: 1px solid var(--rog-rule);
}

dt {
  color: var(--rog-ink-faint);
}

dd {
  margin: 0;
  font-family: var(--rog-serif);
  overflow-wrap: anywhere;
}
</style>

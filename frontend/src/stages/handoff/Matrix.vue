<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import VerdictMark from '@/ui/ledger/VerdictMark.vue'
import { WORDS } from '@/ui/words'

import StandingMark from './StandingMark.vue'
import { numberOf } from './scopes'

/** Items by facets: what is the same is quiet, so that the rest is seen at one glance. */
const props = defineProps<{
  rows: Schemas['MatrixRow'][]
  facets: string[]
  facet: string
  open: number
  touched: (facet: string) => number
}>()
const emit = defineEmits<{ facet: [string]; open: [number] }>()
const SIGNS: Record<string, string> = { '=': 'same', '+': 'added', r: 'recast', c: 'changed', l: 'lost' }
const home = ref<HTMLElement>()
const virtual = useVirtualizer(
  computed(() => ({
    count: props.rows.length,
    getScrollElement: () => home.value ?? null,
    estimateSize: () => 31,
    overscan: 20,
  })),
)
defineExpose({ show: (place: number) => virtual.value.scrollToIndex(place) })
</script>

<template>
  <div ref="home" class="table" :class="{ reading: open }" role="grid" aria-label="Items by facets" tabindex="0">
    <div class="line head" role="row">
      <span role="columnheader">Item</span>
      <span
        v-for="name in facets"
        :key="name"
        role="columnheader"
        class="facet"
        :class="{ own: WORDS.own_facets.includes(name) }"
      >
        <button
          type="button"
          class="plain-button"
          :class="{ here: facet === name }"
          :disabled="!touched(name)"
          :title="touched(name) ? `Show the ${touched(name)} that differ in this` : 'the same in all that are taken'"
          @click="emit('facet', name)"
        >
          {{ name }}<small>{{ touched(name) || '' }}</small>
        </button>
      </span>
    </div>
    <p v-if="!rows.length" class="soft none">No item is like that.</p>
    <div :style="{ height: `${virtual.getTotalSize()}px`, position: 'relative' }">
      <div
        v-for="row in virtual.getVirtualItems()"
        :key="row.index"
        role="row"
        class="line body"
        :class="{ open: open === numberOf(rows[row.index]!) }"
        :style="{ transform: `translateY(${row.start}px)` }"
        @click="emit('open', numberOf(rows[row.index]!))"
      >
        <span role="gridcell" class="name">
          <button type="button" class="plain-button">{{ rows[row.index]!.title }}</button>
          <span class="type faint">{{ WORDS.types[rows[row.index]!.type] }}</span>
        </span>
        <span v-if="rows[row.index]!.standing === 'refused'" role="gridcell" class="why">
          <StandingMark standing="refused" /> {{ rows[row.index]!.why }}
        </span>
        <template v-else>
          <span
            v-for="(name, at) in facets"
            :key="name"
            role="gridcell"
            class="facet"
            :class="{ own: WORDS.own_facets.includes(name) }"
          >
            <span v-if="rows[row.index]!.signs[at] === '='" class="same"
              ><span aria-hidden="true">·</span><span class="visually-hidden">same</span></span
            >
            <VerdictMark v-else :verdict="SIGNS[rows[row.index]!.signs[at]!]!" />
          </span>
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped src="@/ui/ledger/facets.css" />

<style scoped>
.table {
  --name: 220px;
  --facet: 68px;
}

.table.reading {
  --name: 150px;
  --facet: 50px;
}

.head {
  height: 38px;
}

.name {
  display: flex;
  gap: 10px;
  align-items: baseline;
}

.reading .head {
  font-size: 10px;
}

.head .facet button {
  display: block;
  width: 100%;
  text-align: center;
  line-height: 1.2;
}

.head .facet button.here {
  background: var(--rog-joined);
}

.head small {
  display: block;
  font-weight: 700;
  min-height: 13px;
}

.body.open .faint {
  color: var(--rog-ink-soft);
}

.name button {
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}

.type {
  flex: none;
  font: 11.5px var(--rog-sans);
}

.reading .type {
  display: none;
}

.same {
  color: var(--rog-rule-strong);
}

.why {
  grid-column: 2 / -1;
  padding-left: 26px;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
  font-size: 13px;
}

.none {
  padding: 20px;
}
</style>

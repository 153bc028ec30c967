<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Two states line by line: what differs is marked by more than its colour, on the left as gone, on the right as new. */
defineProps<{
  lines: Schemas['Line'][]
  a: string
  b: string
  /** Both are there beside each other: neither is gone or new. */ beside?: boolean
}>()
const differs = (line: Schemas['Line']) => [...line.a, ...line.b].some((piece) => piece.differs)
</script>

<template>
  <table class="diff">
    <thead>
      <tr>
        <td />
        <th scope="col">{{ a }}</th>
        <th scope="col">{{ b }}</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="(line, place) in lines" :key="place" :class="{ differs: differs(line) }">
        <th scope="row">{{ line.label }}</th>
        <td>
          <component :is="!piece.differs ? 'span' : beside ? 'mark' : 'del'" v-for="(piece, n) in line.a" :key="n">{{
            piece.text
          }}</component>
        </td>
        <td>
          <component :is="!piece.differs ? 'span' : beside ? 'mark' : 'ins'" v-for="(piece, n) in line.b" :key="n">{{
            piece.text
          }}</component>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.diff {
  width: 100%;
  table-layout: fixed;
}

thead td,
tbody th {
  width: 104px;
}

th {
  text-align: left;
  vertical-align: top;
  font-weight: 400;
  font-size: 12.5px;
  color: var(--rog-ink-soft);
  padding: 5px 10px 5px 0;
}

td {
  vertical-align: top;
  padding: 3px 14px 3px 8px;
  font: 15.5px/1.42 var(--rog-serif);
  overflow-wrap: anywhere;
}

tbody tr {
  border-top: 1px solid var(--rog-rule);
}

tr.differs > th {
  color: var(--rog-ink);
  font-weight: 600;
}

del,
ins,
mark {
  color: inherit;
  text-decoration-thickness: 1.5px;
  text-underline-offset: 3px;
  background: var(--rog-joined);
}

mark {
  text-decoration: underline dotted;
}

del {
  text-decoration-color: var(--rog-signal);
}

ins {
  text-decoration-color: var(--rog-key);
}
</style>

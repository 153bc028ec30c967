<script setup lang="ts">
import type { Schemas } from '@/api/client'
import LevelMark from '@/ui/LevelMark.vue'

const open = defineModel<boolean>({ required: true })
defineProps<{ reading: Schemas['ReadingOut'] }>()
</script>

<template>
  <ElDialog v-model="open" title="What became of the source" width="760" append-to-body>
    <p>
      {{ reading.claimed }} pieces of text became part of an item, or were set aside by a rule.
      {{ reading.unclaimed.length ? 'These were claimed by nothing:' : 'Nothing was left over.' }}
    </p>
    <table v-if="reading.unclaimed.length">
      <tbody>
        <tr v-for="(entry, index) in reading.unclaimed" :key="index">
          <td class="faint">{{ entry.where }}</td>
          <td>{{ entry.text }}</td>
        </tr>
      </tbody>
    </table>
    <template v-if="reading.findings.length">
      <h3>About the source as a whole</h3>
      <ul>
        <li v-for="(finding, index) in reading.findings" :key="index">
          <LevelMark :level="finding.level" /> {{ finding.message }} <span class="faint">{{ finding.where }}</span>
        </li>
      </ul>
    </template>
  </ElDialog>
</template>

<style scoped>
td {
  padding: 3px 16px 3px 0;
  vertical-align: top;
  overflow-wrap: anywhere;
}

td:first-child {
  white-space: nowrap;
}

h3 {
  margin: 18px 0 6px;
}

ul {
  padding: 0;
  list-style: none;
}

.level {
  min-width: 76px;
}
</style>

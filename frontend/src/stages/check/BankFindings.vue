<script setup lang="ts">
import type { Schemas } from '@/api/client'

type Finding = Schemas['ReadFinding']

/** What is said of the reading as a whole, and advice over all its items. */
defineProps<{ findings: Finding[]; advice: Finding[]; busy: boolean }>()
const emit = defineEmits<{ repair: [Finding, string]; dismiss: [Finding]; off: [Finding] }>()
</script>

<template>
  <ul v-if="findings.length || advice.length" class="bank-findings">
    <li v-for="finding in findings" :key="finding.message + finding.where" :class="finding.level">
      <strong>{{ finding.message }}</strong> <span class="soft">{{ finding.where }} · {{ finding.fix }}</span>
      <template v-if="finding.ways.length">
        <ElButton
          v-for="way in finding.ways"
          :key="way.name"
          size="small"
          :disabled="busy"
          @click="emit('repair', finding, way.name)"
        >
          {{ way.label }} on all
        </ElButton>
        <ElButton size="small" :disabled="busy" @click="emit('dismiss', finding)">They are right so</ElButton>
      </template>
    </li>
    <li v-for="entry in advice" :key="entry.message" class="advice">
      <span>{{ entry.message }}</span> <span class="soft">{{ entry.fix }}</span>
      <button type="button" class="link-button faint" @click="emit('off', entry)">Put off this kind of advice</button>
    </li>
  </ul>
</template>

<style scoped>
.bank-findings {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 96px;
  overflow: auto;
  border-bottom: 1px solid var(--rog-rule);
}

li {
  padding: 4px 18px;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
}

.error {
  background: var(--rog-signal-ground);
}

.warning {
  background: var(--rog-caution-ground);
}

.advice {
  font-size: 13px;
  border-left: 3px dotted var(--rog-aside);
  padding-left: 15px;
}
</style>

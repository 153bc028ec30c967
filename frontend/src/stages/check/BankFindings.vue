<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { Schemas } from '@/api/client'
import { sourcesQuery } from '@/api/queries'
import { useRepairAll } from '@/stages/sources/useRepairAll'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

const { mayEdit } = useRole(useCourse())

type Finding = Schemas['ReadFinding']

/** What is said of the reading as a whole, and advice over all its items. */
const props = defineProps<{ course: number; findings: Finding[]; advice: Finding[]; busy: boolean }>()
const emit = defineEmits<{ repair: [Finding, string]; dismiss: [Finding]; off: [Finding] }>()
const { data: sources } = useQuery(computed(() => sourcesQuery(props.course)))
const everywhere = useRepairAll(() => props.course)
/** The sources of which the same is said: where there are several, one repair is for all of them. */
const having = (code: string) =>
  (sources.value ?? [])
    .filter((source) => !source.aside && source.findings?.some((entry) => entry.code === code))
    .map(({ id }) => id)
</script>

<template>
  <ul v-if="findings.length || advice.length" class="bank-findings">
    <li v-for="finding in findings" :key="finding.message + finding.where" :class="finding.level">
      <strong>{{ finding.message }}</strong> <span class="soft">{{ finding.where }} · {{ finding.fix }}</span>
      <template v-if="finding.ways.length && mayEdit">
        <ElButton
          v-for="way in finding.ways"
          :key="way.name"
          size="small"
          :disabled="busy"
          @click="emit('repair', finding, way.name)"
        >
          {{ way.label }} on all
        </ElButton>
        <ElButton
          v-if="having(finding.code).length > 1 && finding.ways[0]"
          size="small"
          :disabled="busy"
          :loading="everywhere.isPending.value"
          @click="
            everywhere.mutate({ sources: having(finding.code), code: finding.code, repair: finding.ways[0].name })
          "
        >
          {{ finding.ways[0].label }} in all {{ having(finding.code).length }} sources
        </ElButton>
        <ElButton size="small" :disabled="busy" @click="emit('dismiss', finding)">They are right so</ElButton>
      </template>
    </li>
    <li v-for="entry in advice" :key="entry.message" class="advice">
      <span>{{ entry.message }}</span> <span class="soft">{{ entry.fix }}</span>
      <button v-if="mayEdit" type="button" class="link-button faint" @click="emit('off', entry)">
        Put off this kind of advice
      </button>
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

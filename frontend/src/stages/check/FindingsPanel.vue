<script setup lang="ts">
import type { Schemas } from '@/api/client'
import LevelMark from '@/ui/LevelMark.vue'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'

import { usualWay } from './usualWay'

const { mayEdit } = useRole(useCourse())

type Finding = Schemas['ReadFinding']

const props = defineProps<{
  findings: Finding[]
  countOf: (code: string) => number
  alike: (kind: string) => number
  busy: boolean
}>()
const emit = defineEmits<{
  repair: [Finding, string, boolean]
  dismiss: [Finding, boolean]
  other: [Finding, boolean]
}>()

const ORDER: Record<string, number> = { error: 0, warning: 1, note: 2 }
function sorted(): Finding[] {
  return [...props.findings].sort(
    (a, b) => Number(a.dismissed) - Number(b.dismissed) || (ORDER[a.level] ?? 3) - (ORDER[b.level] ?? 3),
  )
}
</script>

<template>
  <ul v-if="findings.length" class="findings" aria-label="Findings about this item">
    <li
      v-for="finding in sorted()"
      :key="finding.code + finding.message"
      :class="[finding.level, { dismissed: finding.dismissed }]"
    >
      <LevelMark :level="finding.level" />
      <div>
        <p class="message">
          {{ finding.other ? 'It can be read in another way that is nearly as likely.' : finding.message }}
          <span class="faint where">{{ finding.where }}</span>
        </p>
        <dl v-if="finding.other" class="ways">
          <dt>Choices now</dt>
          <dd>{{ finding.other.now }}</dd>
          <dt>The other way</dt>
          <dd>{{ finding.other.then }}</dd>
        </dl>
        <p class="soft fix">{{ finding.fix }}</p>
        <div v-if="!finding.dismissed && mayEdit" class="row">
          <template v-for="way in finding.ways" :key="way.name">
            <ElButton size="small" :disabled="busy" @click="emit('repair', finding, way.name, false)">
              {{ way.label }} <kbd v-if="way === usualWay(finding, finding.ways)">r</kbd>
            </ElButton>
            <ElButton
              v-if="way.for_all && countOf(finding.code) > 1"
              size="small"
              :disabled="busy"
              @click="emit('repair', finding, way.name, true)"
            >
              {{ way.label }} on all {{ countOf(finding.code) }}
              <kbd
                v-if="
                  way ===
                  usualWay(
                    finding,
                    finding.ways.filter((entry) => entry.for_all),
                  )
                "
                >R</kbd
              >
            </ElButton>
          </template>
          <p v-for="way in finding.ways.filter((entry) => entry.marks)" :key="way.name" class="soft marks">
            {{ way.label }}: {{ way.marks }}
          </p>
          <template v-if="finding.other">
            <ElButton size="small" :disabled="busy" @click="emit('other', finding, false)">
              Read it the other way <kbd>o</kbd>
            </ElButton>
            <ElButton
              v-if="alike(finding.other.kind) > 1"
              size="small"
              :disabled="busy"
              @click="emit('other', finding, true)"
            >
              The same for all {{ alike(finding.other.kind) }} that differ so <kbd>O</kbd>
            </ElButton>
          </template>
          <button type="button" class="link-button" @click="emit('dismiss', finding, false)">
            It is right so <kbd>d</kbd>
          </button>
          <button
            v-if="countOf(finding.code) > 1"
            type="button"
            class="link-button"
            @click="emit('dismiss', finding, true)"
          >
            on all {{ countOf(finding.code) }}
          </button>
        </div>
        <p v-else class="faint fix">Looked at.</p>
      </div>
    </li>
  </ul>
</template>

<style scoped>
.marks {
  flex-basis: 100%;
  margin: 0;
  font-size: 12.5px;
}

.findings {
  list-style: none;
  margin: 0 0 16px;
  padding: 0;
}

li {
  display: grid;
  grid-template-columns: 84px minmax(0, 1fr);
  align-items: start;
  padding: 9px 12px;
  border-left: 3px solid var(--rog-aside);
  background: var(--rog-aside-ground);
  margin-bottom: 4px;
}

li.error {
  border-color: var(--rog-signal);
  background: var(--rog-signal-ground);
}

li.warning {
  border-color: var(--rog-caution);
  background: var(--rog-caution-ground);
}

li.dismissed {
  background: none;
  border-color: var(--rog-rule);
}

p {
  margin: 0;
}

.message {
  font-weight: 500;
}

.where {
  font-weight: 400;
  font-size: 12.5px;
  margin-left: 6px;
}

.error .where,
.warning .where,
.note .where {
  color: var(--rog-ink-soft);
}

.fix {
  margin-bottom: 5px;
}

.ways {
  display: grid;
  grid-template-columns: 104px minmax(0, 1fr);
  gap: 2px 10px;
  margin: 4px 0;
}

.ways dd {
  margin: 0;
  overflow-wrap: anywhere;
}

.row {
  gap: 10px;
}
</style>

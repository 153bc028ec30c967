<script setup lang="ts">
import { computed, ref } from 'vue'

import type { Schemas } from '@/api/client'
import { takenFirst } from '@/ui/taking'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { WORDS } from '@/ui/words'

import KnownDialog from './KnownDialog.vue'

/** What was read and what waits, in a line; what can be done with all of it. */
const asProof = defineModel<boolean>('asProof', { required: true })
const props = defineProps<{
  reading: Schemas['ReadingOut']
  flagged: number
  elsewhere: number
  waiting: number
  sound: number
  canGoBack: boolean
}>()
const course = useCourse()
const { mayEdit } = useRole(course)
const knowing = ref(false)
const first = computed(() => takenFirst(props))
const advised = computed(() => props.reading.cells.filter((cell) => cell.advice.length).length)
const emit = defineEmits<{ accounting: []; next: []; back: []; mend: []; advice: []; take: [] }>()
</script>

<template>
  <header class="summary">
    <h1>{{ reading.title }}</h1>
    <span class="soft">{{ WORDS.formats[reading.format] }}</span>
    <span>
      <strong>{{ reading.cells.length }}</strong> found<template v-if="reading.expected != null"
        >,
        <span :class="{ signal: reading.expected !== reading.cells.length }"
          >{{ reading.expected }} expected</span
        ></template
      >
    </span>
    <span class="grow" />
    <button v-if="flagged" type="button" class="link-button signal" @click="emit('next')">
      {{ flagged }} {{ flagged === 1 ? 'needs' : 'need' }} a look <kbd>n</kbd>
    </button>
    <span v-else class="sound">Nothing needs a look</span>
    <span v-if="flagged && elsewhere" class="soft">{{ elsewhere }} in other sources</span>
    <button v-else-if="elsewhere" type="button" class="link-button signal" @click="emit('next')">
      {{ elsewhere }} in other sources <kbd>n</kbd>
    </button>
    <ElButton v-if="mayEdit" class="take" type="primary" :disabled="!waiting" @click="emit('take')">
      Take {{ first.count }}{{ first.count < waiting ? ` of ${waiting}` : '' }} into pools <kbd>t</kbd>
    </ElButton>
  </header>
  <nav class="tools" aria-label="What can be done with this reading">
    <button type="button" class="link-button" @click="emit('accounting')">
      {{ reading.claimed }} pieces claimed, {{ reading.unclaimed.length }} not
    </button>
    <button v-if="canGoBack && mayEdit" type="button" class="link-button" @click="emit('back')">
      Read it as before <kbd>p</kbd>
    </button>
    <span class="grow" />
    <button type="button" class="link-button" @click="knowing = true">In the pools already?</button>
    <KnownDialog v-model="knowing" :course="course" :reading="reading.id" />
    <button type="button" class="link-button" @click="emit('advice')">
      Advice{{ advised ? ` on ${advised}` : '' }}
    </button>
    <button v-if="mayEdit" type="button" class="link-button" @click="emit('mend')">Mend many <kbd>M</kbd></button>
    <button type="button" class="link-button" :aria-pressed="asProof" @click="asProof = !asProof">
      {{ asProof ? 'Beside the source' : 'As a proof' }} <kbd>v</kbd>
    </button>
  </nav>
</template>

<style scoped>
.summary,
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 4px 18px;
  padding: 10px 18px 2px;
}

.tools {
  padding: 0 18px 8px;
  border-bottom: 1px solid var(--rog-rule);
  font-size: 13px;
}

h1 {
  font-size: 19px;
  max-width: 420px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.grow {
  flex: 1;
}

.take {
  margin-left: auto;
}

.signal {
  color: var(--rog-signal);
  font-weight: 500;
}

.sound {
  color: var(--rog-key);
}
</style>

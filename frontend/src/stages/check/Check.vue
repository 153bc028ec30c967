<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Schemas } from '@/api/client'
import ErrorState from '@/ui/ErrorState.vue'
import { useCourse } from '@/ui/useCourse'
import { useRole } from '@/ui/useRole'
import { WORDS } from '@/ui/words'

import AccountingDialog from './AccountingDialog.vue'
import AdviceDialog from './AdviceDialog.vue'
import BankFindings from './BankFindings.vue'
import DecisionBar from './DecisionBar.vue'
import { kept } from './filters'
import ItemPane from './ItemPane.vue'
import MendDialog from './mending/MendDialog.vue'
import PaneDivider from './PaneDivider.vue'
import ProofView from './ProofView.vue'
import SampleBar from './SampleBar.vue'
import SourcePane from './SourcePane.vue'
import { flaggedCount, soundCount, waitingCount, type Place } from './stepping'
import Strip from './Strip.vue'
import SummaryLine from './SummaryLine.vue'
import TakeDialog from './TakeDialog.vue'
import TextDialog from './TextDialog.vue'
import { useAdvice } from './useAdvice'
import { useCheckAddress } from './useCheckAddress'
import { useCheckKeys } from './useCheckKeys'
import { useLook } from './useLook'
import { useNewest } from './useNewest'
import { usualWay } from './usualWay'
import { useReadAgain } from './useReadAgain'
import { useReading, type Decision, type Passage } from './useReading'
import { useSample } from './useSample'

type AnyItem = Schemas['ReadingItemOut']['item']
type Finding = Schemas['ReadFinding']

const course = useCourse()
const route = useRoute()
const router = useRouter()
const readingId = computed(() => Number(route.params.reading))
const { position, asProof, filters, type, pick: goTo } = useCheckAddress()
const { read, item, conflict, edit, decide, repair, dismiss, drop, refresh } = useReading(
  course,
  readingId,
  position,
  leaveEditor,
)
const { course: courseData, mayEdit } = useRole(course)
const cells = computed(() => read.data.value?.cells ?? [])
const current = computed(() => item.data.value)
/** Whether the item that is shown is the one that is asked for: until then nothing is decided on it. */
const isThere = computed(() => current.value?.position === position.value)
const editing = ref(false)
useNewest(course, read.data, editing)
const taking = ref(false)
const correcting = ref(false)
const accounting = ref(false)
const mending = ref(false)
const advising = ref(false)
const lit = ref('')
const width = useStorage('rogatum-source-width', 48)
const pane = ref<InstanceType<typeof ItemPane>>()
const bankFindings = computed(
  () =>
    read.data.value?.findings.filter(
      (finding) => !finding.dismissed && WORDS.levels_to_look_at.includes(finding.level),
    ) ?? [],
)
const again = useReadAgain(() => course.value)
const { putOff, putOffOne } = useAdvice(
  course,
  computed(() => courseData.value?.advice_off ?? []),
  computed(() => courseData.value?.advice_version),
)
const busy = computed(
  () => repair.isPending.value || edit.isPending.value || again.isPending.value || decide.isPending.value,
)
const open = computed(() => (current.value?.findings ?? []).filter((finding) => !finding.dismissed))
const hasParts = computed(() => Boolean(read.data.value?.has_parts))
const at = computed(() => ({ reading: readingId.value, position: position.value }))
const count = computed(() => cells.value.length)
const { step, among, elsewhere } = useLook(
  course,
  at,
  computed(() => read.data.value?.cells),
  hasParts,
  goOn,
)

/** What was typed is saved, or given up. */
function leaveEditor(): void {
  pane.value?.forget()
  editing.value = false
}
/** The editor opens when the item that it is asked for is there. */
const wantsEdit = ref(false)
watch([wantsEdit, isThere], () => {
  if (!wantsEdit.value || !isThere.value) return
  wantsEdit.value = false
  editing.value = !current.value?.taken
})
function pick(to: number | undefined): void {
  if (to === undefined || to < 1 || to > cells.value.length) return
  editing.value = false
  goTo(to)
}
/** What the proof shows, or all: the keys never reach an item that is not there to be seen. */
const inView = computed(() => (asProof.value ? kept(cells.value, filters.value, type.value) : cells.value))
function stepBy(by: number): void {
  const index = inView.value.findIndex((cell) => cell.position === position.value)
  pick(index < 0 ? inView.value[0]?.position : inView.value[index + by]?.position)
}
/** On to what needs a look next: in this source, else in the next one that has something. */
function goOn(place: Place): void {
  editing.value = false
  if (place.reading === readingId.value) goTo(place.position)
  else {
    const query = { ...route.query, item: String(place.position) }
    void router.push({ name: 'reading', params: { course: course.value, reading: place.reading }, query })
  }
}
const unflagged = computed(() => soundCount(cells.value))
const sampling = useSample(
  course,
  computed(() => read.data.value),
  position,
  pick,
)
const offersSample = computed(
  () => Boolean(sampling.sample.value) || (!flaggedCount(cells.value) && unflagged.value > 0),
)
const place = computed(() => {
  const own = `Item ${current.value?.position ?? position.value} of ${count.value}`
  const look = among.value.number ? ` · ${among.value.number} of ${among.value.of} to look at` : ''
  return `${own}${look} · ${current.value?.where ?? ''}`
})

function readOther(finding: Finding | undefined, all: boolean): void {
  if (finding?.other && read.data.value) again.other(read.data.value, finding.other, all)
}
function readAsBefore(): void {
  if (read.data.value) again.goBack(read.data.value)
}
function repairOne(finding: Finding | undefined, way: string | undefined, all: boolean): void {
  if (finding && way && (isThere.value || all)) repair.mutate({ code: finding.code, repair: way, all })
}
function mend(all: boolean): void {
  const finding = open.value.find((candidate) => candidate.ways.length)
  const ways = finding?.ways.filter((way) => !all || way.for_all) ?? []
  repairOne(finding, usualWay(finding, ways)?.name, all)
}
/** A decision on the item that is looked at, or on one of the proof. */
function decideAt(decision: Decision, to = position.value): void {
  const cell = inView.value.find((entry) => entry.position === to)
  if (cell && !cell.taken) decide.mutate({ at: to, decision })
}

watch(editing, (now) => {
  if (!now) conflict.settle()
})
/** Saves over the version that the editor was opened on: what came in behind its back must not count as seen. */
function save(changed: AnyItem, passage: Passage | undefined, version: string): void {
  edit.mutate({ item: changed, version, passage })
}
async function keepWhatIsThere(): Promise<void> {
  leaveEditor()
  await refresh()
}
function corrected(reading: number): void {
  void refresh()
  void router.replace({ name: 'reading', params: { course: course.value, reading }, query: route.query })
}
function openBeside(to: number): void {
  asProof.value = false
  pick(to)
}

watch(readingId, () => (editing.value = false))
const judge = (right: boolean) => void sampling.say(right)
useCheckKeys({
  step,
  pick: stepBy,
  mend,
  readOther: (all) =>
    readOther(
      open.value.find((finding) => finding.other),
      all,
    ),
  readAsBefore,
  dismiss: () => isThere.value && open.value[0] && dismiss.mutate({ code: open.value[0].code, all: false }),
  edit: () => {
    asProof.value = false
    wantsEdit.value = true
  },
  drop: () =>
    isThere.value && current.value && drop.mutate({ positions: [position.value], dropped: !current.value.dropped }),
  correct: () => (correcting.value = Boolean(read.data.value?.is_text)),
  take: () => (taking.value = true),
  leave: () => (editing.value = false),
  key: (choice) => !editing.value && (isThere.value || asProof.value) && decideAt({ kind: 'key', choice }),
  proof: () => (asProof.value = !asProof.value),
  mendMany: () => (mending.value = true),
  startSample: () =>
    offersSample.value && !sampling.sample.value && sampling.start.mutate({ count: Math.min(20, unflagged.value) }),
  sample: judge,
})
</script>

<template>
  <ErrorState v-if="read.error.value" :error="read.error.value">
    <RouterLink :to="{ name: 'check', params: { course } }">All readings</RouterLink>
  </ErrorState>
  <p v-else-if="!read.data.value" class="faint loading">Loading the reading…</p>
  <div v-else class="check">
    <SummaryLine
      v-model:as-proof="asProof"
      :reading="read.data.value"
      :flagged="flaggedCount(cells)"
      :elsewhere="elsewhere"
      :waiting="waitingCount(cells)"
      :sound="unflagged"
      :can-go-back="again.canGoBack(read.data.value)"
      @accounting="accounting = true"
      @next="step(1)"
      @back="readAsBefore"
      @mend="mending = true"
      @advice="advising = true"
      @take="taking = true"
    />
    <div class="above">
      <BankFindings
        :course="course"
        :findings="bankFindings"
        :advice="read.data.value.advice"
        :busy="busy"
        @repair="(finding, way) => repairOne(finding, way, true)"
        @dismiss="dismiss.mutate({ code: $event.code, all: true })"
        @off="putOffOne($event.code)"
      />
      <SampleBar
        v-if="offersSample && mayEdit"
        :reading="readingId"
        :sample="sampling.sample.value"
        :drawn="sampling.drawn.value"
        :unflagged="unflagged"
        :busy="sampling.start.isPending.value"
        @start="sampling.start.mutate($event)"
        @say="judge"
        @go="pick"
        @drop="sampling.drop.mutate()"
      />
    </div>
    <div v-if="asProof" class="panes proof">
      <Strip :cells="cells" :current="position" @pick="pick" />
      <ProofView
        v-model:filters="filters"
        v-model:type="type"
        :course="course"
        :reading="read.data.value"
        :current="position"
        @pick="pick"
        @key="(to, choice) => decideAt({ kind: 'key', choice }, to)"
        @open="openBeside"
      >
        <DecisionBar
          v-if="current"
          class="decisions"
          :item="current"
          :outcomes="courseData?.outcomes ?? []"
          :disabled="Boolean(current.taken) || !isThere"
          @decide="decideAt"
        />
      </ProofView>
    </div>
    <div
      v-else
      class="panes"
      :style="{ gridTemplateColumns: `minmax(0, ${width}fr) auto auto minmax(0, ${100 - width}fr)` }"
    >
      <SourcePane
        :course="course"
        :reading="read.data.value"
        :current="position"
        :first="current?.first ?? null"
        :last="current?.last ?? null"
        :lit="lit"
        @pick="pick"
        @correct="correcting = true"
      />
      <PaneDivider v-model="width" />
      <Strip :cells="cells" :current="position" @pick="pick" />
      <section class="item-pane" aria-label="Item as it was read" tabindex="0">
        <p v-if="!cells.length" class="soft">No item was found. Correct the text, or open another file.</p>
        <ErrorState v-else-if="item.error.value" :error="item.error.value" />
        <ItemPane
          v-else-if="current"
          ref="pane"
          v-model:editing="editing"
          :reading="read.data.value"
          :current="current"
          :outcomes="courseData?.outcomes ?? []"
          :place="place"
          :busy="busy"
          :saving="edit.isPending.value"
          :clash="conflict.clash.value"
          @drop="drop.mutate({ positions: [position], dropped: !current.dropped })"
          @repair="repairOne"
          @other="readOther"
          @dismiss="(finding, all) => dismiss.mutate({ code: finding.code, all })"
          @off="putOffOne($event.code)"
          @decide="decideAt"
          @save="save"
          @keep="keepWhatIsThere"
          @field="lit = $event"
        />
      </section>
    </div>
    <TakeDialog
      v-model="taking"
      :course="course"
      :reading="read.data.value"
      :position="position"
      :waiting="waitingCount(cells)"
      :sound="soundCount(cells)"
      @done="refresh"
    />
    <TextDialog
      v-if="correcting"
      v-model="correcting"
      :course="course"
      :reading="read.data.value"
      :first="current?.first ?? null"
      @done="corrected"
    />
    <MendDialog
      v-if="mending"
      v-model="mending"
      :course="course"
      :reading="read.data.value"
      :position="position"
      @done="refresh"
      @open="((editing = false), openBeside($event), (editing = true))"
    />
    <AccountingDialog v-model="accounting" :reading="read.data.value" />
    <AdviceDialog
      v-model="advising"
      :reading="read.data.value"
      :off="courseData?.advice_off ?? []"
      @off="putOff.mutate($event)"
      @show="((filters = ['advice']), (asProof = true))"
    />
  </div>
</template>

<style scoped>
.check {
  display: grid;
  grid-template-rows: auto auto auto minmax(0, 1fr);
  height: 100%;
}

.loading {
  padding: 24px;
}

.panes {
  display: grid;
  grid-template-rows: minmax(0, 1fr);
  min-height: 0;
}

.panes.proof {
  grid-template-columns: auto minmax(0, 1fr);
}

.decisions {
  margin: 0;
  padding: 5px 18px;
  border: 0;
  border-bottom: 1px solid var(--rog-rule);
}

.item-pane {
  overflow: auto;
  padding: 12px 24px 28px;
}
</style>

<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Schemas } from '@/api/client'
import ConflictNotice from '@/ui/ConflictNotice.vue'
import ErrorState from '@/ui/ErrorState.vue'
import ItemEditor from '@/ui/ItemEditor.vue'
import ItemView from '@/ui/ItemView.vue'
import { useShortcuts } from '@/ui/shortcuts'
import { useCourse } from '@/ui/useCourse'
import { WORDS } from '@/ui/words'

import AccountingDialog from './AccountingDialog.vue'
import FindingsPanel from './FindingsPanel.vue'
import SourcePane from './SourcePane.vue'
import { flaggedCount, nextFlagged, soundCount, waitingCount } from './stepping'
import Strip from './Strip.vue'
import TakeDialog from './TakeDialog.vue'
import TextDialog from './TextDialog.vue'
import { useReadAgain } from './useReadAgain'
import { useReading } from './useReading'

type AnyItem = Schemas['ReadingItemOut']['item']

const course = useCourse()
const route = useRoute()
const router = useRouter()
const readingId = computed(() => Number(route.params.reading))
const position = computed(() => Number(route.query.item ?? 1))
const { read, item, conflict, edit, repair, dismiss, drop, refresh } = useReading(course, readingId, position)
const cells = computed(() => read.data.value?.cells ?? [])
const current = computed(() => item.data.value)
const editing = ref(false)
const taking = ref(false)
const correcting = ref(false)
const accounting = ref(false)
const flagged = computed(() => flaggedCount(cells.value))
const bankFindings = computed(
  () =>
    read.data.value?.findings.filter(
      (finding) => !finding.dismissed && WORDS.levels_to_look_at.includes(finding.level),
    ) ?? [],
)
const again = useReadAgain(() => course.value)
const busy = computed(() => repair.isPending.value || edit.isPending.value || again.isPending.value)
const alike = (kind: string) => read.data.value?.others.find((entry) => entry.kind === kind)?.count ?? 0

/** Reads an item, or all that differ so, the other way: its lines' roles are said by hand from now on. */
function readOther(finding: Schemas['ReadFinding'] | undefined, all: boolean): void {
  const reading = read.data.value
  if (!finding?.other || !reading) return
  const { kind, roles } = finding.other
  const said = all ? reading.others.find((entry) => entry.kind === kind)?.roles : roles
  again.mutate({ reading, options: { roles: { ...reading.roles, ...said } } })
}
const readOtherFirst = (all: boolean) =>
  readOther(
    open.value.find((finding) => finding.other),
    all,
  )
function readAsBefore(): void {
  if (read.data.value) again.goBack(read.data.value)
}

function pick(to: number | undefined): void {
  if (to === undefined || to < 1 || to > cells.value.length) return
  editing.value = false
  void router.replace({ query: { ...route.query, item: String(to) } })
}
const step = (direction: 1 | -1) => pick(nextFlagged(cells.value, position.value, direction))
const countOf = (code: string) => cells.value.filter((cell) => !cell.taken && cell.codes.includes(code)).length
const open = computed(() => (current.value?.findings ?? []).filter((finding) => !finding.dismissed))

function mend(all: boolean): void {
  const finding = open.value.find((candidate) => candidate.repair)
  if (finding) repairOne(finding, all)
}
function repairOne(finding: Schemas['ReadFinding'], all: boolean): void {
  if (finding.repair) repair.mutate({ code: finding.code, repair: finding.repair, all })
}
function dismissFirst(): void {
  const finding = open.value[0]
  if (finding) dismiss.mutate({ code: finding.code, all: false })
}
/** The version that the editor was opened on: what comes in behind its back must not count as seen. */
const seen = ref('')
watch(editing, (now) => {
  if (now) seen.value = current.value?.version ?? ''
  else conflict.settle()
})
function save(changed: AnyItem): void {
  edit.mutate({ item: changed, version: seen.value })
}
async function keepWhatIsThere(): Promise<void> {
  editing.value = false
  await refresh()
}
watch(edit.isSuccess, (saved) => {
  if (saved) editing.value = false
})
function corrected(reading: number): void {
  void refresh()
  void router.replace({ name: 'reading', params: { course: course.value, reading }, query: route.query })
}

watch(readingId, () => (editing.value = false))
const group = 'Check'
useShortcuts([
  { keys: 'n', label: 'Next item that needs a look', group, run: () => step(1) },
  { keys: 'b', label: 'Back to the one before', group, run: () => step(-1) },
  { keys: 'ArrowDown', label: 'Next item', group, run: () => pick(position.value + 1) },
  { keys: 'ArrowUp', label: 'Item before', group, run: () => pick(position.value - 1) },
  { keys: 'r', label: 'Repair this item', group, run: () => mend(false) },
  { keys: 'R', label: 'Repair all that have this finding', group, run: () => mend(true) },
  { keys: 'o', label: 'Read it the other way', group, run: () => readOtherFirst(false) },
  { keys: 'O', label: 'The same for all that differ so', group, run: () => readOtherFirst(true) },
  { keys: 'p', label: 'Read it as before', group, run: readAsBefore },
  { keys: 'd', label: 'It is right so', group, run: dismissFirst },
  { keys: 'e', label: 'Edit the item', group, run: () => (editing.value = !current.value?.taken) },
  { keys: 'x', label: 'Leave the item out, or let it in', group, run: () => drop.mutate(!current.value?.dropped) },
  { keys: 'c', label: 'Correct the text', group, run: () => (correcting.value = Boolean(read.data.value?.is_text)) },
  { keys: 't', label: 'Take into pools', group, run: () => (taking.value = true) },
  { keys: 'Escape', label: 'Leave the editor', group, run: () => (editing.value = false), inFields: true },
])
</script>

<template>
  <ErrorState v-if="read.error.value" :error="read.error.value">
    <RouterLink :to="{ name: 'check', params: { course } }">All readings</RouterLink>
  </ErrorState>
  <p v-else-if="!read.data.value" class="faint loading">Loading the reading…</p>
  <div v-else class="check">
    <header class="summary">
      <h1>{{ read.data.value.title }}</h1>
      <span class="soft">{{ WORDS.formats[read.data.value.format] }}</span>
      <span>
        <strong>{{ cells.length }}</strong> found<template v-if="read.data.value.expected != null"
          >,
          <span :class="{ signal: read.data.value.expected !== cells.length }"
            >{{ read.data.value.expected }} expected</span
          ></template
        >
      </span>
      <button type="button" class="link-button" @click="accounting = true">
        {{ read.data.value.claimed }} pieces claimed, {{ read.data.value.unclaimed.length }} not
      </button>
      <span class="grow" />
      <button v-if="flagged" type="button" class="link-button signal" @click="step(1)">
        {{ flagged }} {{ flagged === 1 ? 'needs' : 'need' }} a look <kbd>n</kbd>
      </button>
      <span v-else class="sound">Nothing needs a look</span>
      <button v-if="again.canGoBack(read.data.value)" type="button" class="link-button" @click="readAsBefore">
        Read it as before <kbd>p</kbd>
      </button>
      <ElButton type="primary" :disabled="!waitingCount(cells)" @click="taking = true">
        Take {{ waitingCount(cells) }} into pools <kbd>t</kbd>
      </ElButton>
    </header>
    <ul v-if="bankFindings.length" class="bank-findings">
      <li v-for="finding in bankFindings" :key="finding.message + finding.where" :class="finding.level">
        <strong>{{ finding.message }}</strong> <span class="soft">{{ finding.where }} · {{ finding.fix }}</span>
        <template v-if="finding.repair">
          <ElButton size="small" :disabled="busy" @click="repairOne(finding, true)">
            {{ finding.repair_label }} on all
          </ElButton>
          <ElButton size="small" :disabled="busy" @click="dismiss.mutate({ code: finding.code, all: true })">
            They are right so
          </ElButton>
        </template>
      </li>
    </ul>
    <div class="panes">
      <SourcePane
        :course="course"
        :reading="read.data.value"
        :current="position"
        :first="current?.first ?? null"
        :last="current?.last ?? null"
        @pick="pick"
        @correct="correcting = true"
      />
      <Strip :cells="cells" :current="position" @pick="pick" />
      <section class="item-pane" aria-label="Item as it was read" tabindex="0">
        <p v-if="!cells.length" class="soft">No item was found. Correct the text, or open another file.</p>
        <ErrorState v-else-if="item.error.value" :error="item.error.value" />
        <template v-else-if="current">
          <header class="row spread where">
            <span class="soft">Item {{ position }} of {{ cells.length }} · {{ current.where }}</span>
            <span class="row">
              <span v-if="current.taken" class="faint">taken</span>
              <template v-else>
                <span v-if="current.dropped" class="signal">left out</span>
                <span v-if="current.edited" class="faint">edited</span>
                <button type="button" class="link-button" @click="drop.mutate(!current.dropped)">
                  {{ current.dropped ? 'Let it in' : 'Leave it out' }} <kbd>x</kbd>
                </button>
                <button v-if="!editing" type="button" class="link-button" @click="editing = true">
                  Edit <kbd>e</kbd>
                </button>
              </template>
            </span>
          </header>
          <FindingsPanel
            :findings="current.findings"
            :count-of="countOf"
            :alike="alike"
            :busy="busy"
            @repair="repairOne"
            @other="readOther"
            @dismiss="(finding, all) => dismiss.mutate({ code: finding.code, all })"
          />
          <ConflictNotice v-if="editing && conflict.clash.value" :clash="conflict.clash.value" @keep="keepWhatIsThere">
            <template #there>
              <ItemView :item="conflict.clash.value.current.body as AnyItem" :stimulus="current.stimulus" />
            </template>
          </ConflictNotice>
          <ItemEditor
            v-if="editing"
            :key="position"
            :item="current.item"
            :saving="edit.isPending.value"
            @save="save"
            @cancel="editing = false"
          />
          <ItemView v-else :item="current.item" :stimulus="current.stimulus" />
          <p v-if="current.path.length" class="faint pool">Pool: {{ current.path.join(' / ') }}</p>
        </template>
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
    <AccountingDialog v-model="accounting" :reading="read.data.value" />
  </div>
</template>

<style scoped>
.check {
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  height: 100%;
}

.loading {
  padding: 24px;
}

.summary {
  display: flex;
  align-items: baseline;
  gap: 18px;
  padding: 10px 18px;
  border-bottom: 1px solid var(--rog-rule);
}

.summary h1 {
  font-size: 19px;
  max-width: 420px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}

.grow {
  flex: 1;
}

.signal {
  color: var(--rog-signal);
  font-weight: 500;
}

.sound {
  color: var(--rog-key);
}

.bank-findings {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 88px;
  overflow: auto;
  border-bottom: 1px solid var(--rog-rule);
}

.bank-findings li {
  padding: 4px 18px;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 10px;
}

.bank-findings .error {
  background: var(--rog-signal-ground);
}

.bank-findings .warning {
  background: var(--rog-caution-ground);
}

.panes {
  display: grid;
  grid-template-columns: minmax(0, 11fr) auto minmax(0, 12fr);
  grid-template-rows: minmax(0, 1fr);
  min-height: 0;
  grid-row: 3;
}

.item-pane {
  overflow: auto;
  padding: 12px 24px 28px;
}

.where {
  margin-bottom: 10px;
  font-size: 13px;
}

.pool {
  margin-top: 14px;
  font-size: 12.5px;
}
</style>

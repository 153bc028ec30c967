<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'

import { poolsQuery } from '@/api/queries'
import { flat, treeOf } from '@/stages/pools/usePools'

import ConditionFields from './ConditionFields.vue'
import type { Condition, QuizWork } from './useQuiz'

/** Something more into the quiz: a draw from a pool or from the course, or all of a pool as fixed items. */
const props = defineProps<{ course: number; work: QuizWork }>()
const { data: pools } = useQuery(computed(() => poolsQuery(props.course)))
const choices = computed(() => flat(treeOf(pools.value ?? [])))
const WHOLE = 0
const pool = ref<number>()
const pick = ref(3)
const each = ref<number | undefined>(1)
const alone = ref(false)
const where = ref<Condition[]>([])
const named = computed(() => pools.value?.find((entry) => entry.id === pool.value))
const said = computed(() => where.value.filter((condition) => condition.values.length))

async function draw(): Promise<void> {
  await props.work.addDraw.mutateAsync({
    pool: pool.value || null,
    pick: pick.value,
    points_each: each.value ?? null,
    where: said.value,
    alone: alone.value,
  })
  where.value = []
}
function all(): void {
  if (!named.value) return
  props.work.addItems.mutate({
    items: [],
    selection: { all_matching: true, pool: named.value.id, with_subpools: !alone.value },
    title: named.value.name,
  } as never)
}
</script>

<template>
  <form class="add" aria-label="Add a draw" @submit.prevent="pool !== undefined && draw()">
    <div class="row">
      <span>Draw</span>
      <ElInputNumber v-model="pick" :min="1" :max="500" :controls="false" class="narrow" aria-label="How many" />
      <span>from</span>
      <ElSelect v-model="pool" filterable placeholder="a pool" class="pool" aria-label="Pool to draw from">
        <ElOption :value="WHOLE" label="the whole course" />
        <ElOption v-for="entry in choices" :key="entry.id" :value="entry.id" :label="entry.path" />
      </ElSelect>
      <ConditionFields v-model="where" :course="course" :pool="pool" label="the new draw" />
      <ElInputNumber v-model="each" :min="0" :max="10000" :controls="false" class="narrow" aria-label="Points each" />
      <span>points each</span>
    </div>
    <div class="row second">
      <ElButton native-type="submit" :disabled="pool === undefined" :loading="work.addDraw.isPending.value"
        >Add the draw</ElButton
      >
      <ElButton :disabled="!named" :loading="work.addItems.isPending.value" @click="all"
        >Put in all of {{ named?.name ?? 'the pool' }}</ElButton
      >
      <label v-if="pool" class="row soft"
        ><input v-model="alone" type="checkbox" /> without the pools that lie below it</label
      >
    </div>
  </form>
</template>

<style scoped>
.add {
  margin-top: 18px;
  padding-top: 14px;
  border-top: 1px solid var(--rog-rule-strong);
}

.second {
  margin-top: 10px;
  gap: 14px;
}

.narrow {
  width: 62px;
}

.pool {
  width: 250px;
}
</style>

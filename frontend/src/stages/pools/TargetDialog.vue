<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import type { Schemas } from '@/api/client'
import { coursesQuery } from '@/api/queries'

import PoolPicker from './PoolPicker.vue'
import type { Pools } from './usePools'

/** Where a selection goes: into a pool of this course, or as a copy into one of any course that one may change. */
const open = defineModel<boolean>({ required: true })
const props = defineProps<{
  copies: boolean
  said: string
  selection: Schemas['Selection']
  course: number
  pools: Pools
}>()
const emit = defineEmits<{ done: [] }>()
const { data: courses } = useQuery(coursesQuery())
const targets = computed(() => courses.value?.filter((entry) => entry.role !== 'reader') ?? [])
const target = ref(props.course)
const pool = ref<number>()
const name = ref('')
watch(open, (now) => {
  if (!now) return
  pool.value = undefined
  name.value = ''
  target.value = targets.value.some((entry) => entry.id === props.course) ? props.course : (targets.value[0]?.id ?? 0)
})
watch(target, () => (pool.value = undefined))
const ready = computed(() => Boolean(pool.value || name.value.trim()) && target.value > 0)
const verb = computed(() => (props.copies ? 'Copy' : 'Move'))
const asking = computed(() => props.pools.move.isPending.value || props.pools.copy.isPending.value)

async function done(): Promise<void> {
  if (!ready.value || asking.value) return
  const body = { selection: props.selection, pool: pool.value ?? null, name: name.value.trim() }
  if (props.copies) await props.pools.copy.mutateAsync({ ...body, course: target.value })
  else await props.pools.move.mutateAsync(body)
  open.value = false
  emit('done')
}
</script>

<template>
  <ElDialog v-model="open" :title="`${verb} ${said}`" width="460" append-to-body>
    <form class="stacked-form" @submit.prevent="done">
      <ElSelect v-if="copies" v-model="target" aria-label="Course to copy into">
        <ElOption
          v-for="entry in targets"
          :key="entry.id"
          :value="entry.id"
          :label="entry.role === 'owner' ? entry.name : `${entry.name} (${entry.owner}’s)`"
        />
      </ElSelect>
      <PoolPicker
        :key="target"
        v-model:pool="pool"
        v-model:name="name"
        :course="target"
        :label="copies ? 'Pool to copy into' : 'Pool to move to'"
      />
      <p v-if="copies && !targets.length" class="soft">
        You may change no course. Make one of your own, and copy into that.
      </p>
      <p v-else-if="copies" class="soft">Feedback, pictures and passages go along; the items here stay.</p>
    </form>
    <template #footer
      ><ElButton type="primary" :disabled="!ready" :loading="asking" @click="done"
        >{{ verb }} {{ said }}</ElButton
      ></template
    >
  </ElDialog>
</template>

<style scoped>
p {
  margin: 0;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { poolsQuery } from '@/api/queries'

import { flat, treeOf } from './usePools'

/** A pool of a course, by its path; and a name for a new one below it, which may be at the top. */
const pool = defineModel<number | undefined>('pool', { required: true })
const name = defineModel<string>('name', { required: true })
const props = defineProps<{ course: number; label: string }>()
const { data } = useQuery(computed(() => poolsQuery(props.course)))
const choices = computed(() => flat(treeOf(data.value ?? [])))
</script>

<template>
  <div class="stacked-form">
    <ElSelect v-model="pool" filterable clearable placeholder="Pool" :aria-label="label">
      <ElOption v-for="entry in choices" :key="entry.id" :value="entry.id" :label="entry.path" />
    </ElSelect>
    <ElInput
      v-model="name"
      aria-label="Name of a new pool"
      :placeholder="pool ? 'or a new pool below it' : 'or a new pool at the top'"
    />
  </div>
</template>

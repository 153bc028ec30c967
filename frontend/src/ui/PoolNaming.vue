<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { poolsQuery } from '@/api/queries'

/** How pools are called and below which pool they come; what that makes is shown below it. */
const pattern = defineModel<string>('pattern', { required: true })
const purpose = defineModel<string>('purpose', { required: true })
const pool = defineModel<number | undefined>('pool', { required: true })
const props = defineProps<{ course: number }>()
const { data: pools } = useQuery(computed(() => poolsQuery(props.course)))
</script>

<template>
  <fieldset class="take-part">
    <legend>Names of the pools</legend>
    <ElInput v-model="pattern" aria-label="Pattern for the names" />
    <p class="faint">Fields: {course} {chapter} {number} {purpose} {source}</p>
    <label v-if="pattern.includes('{purpose}')" class="row">Purpose <ElInput v-model="purpose" class="short" /></label>
    <label class="row">
      Below
      <ElSelect v-model="pool" clearable filterable placeholder="the course" aria-label="Pool above" class="short">
        <ElOption v-for="entry in pools" :key="entry.id" :value="entry.id" :label="entry.name" />
      </ElSelect>
    </label>
    <slot />
  </fieldset>
</template>

<style scoped>
.short {
  width: 280px;
}
</style>

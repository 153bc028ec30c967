<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok } from '@/api/client'
import { coursesQuery } from '@/api/queries'
import ErrorState from '@/ui/ErrorState.vue'

const router = useRouter()
const queries = useQueryClient()
const { data: courses, error, isPending } = useQuery(coursesQuery())
const name = ref('')
const create = useMutation({
  mutationFn: () => ok(client.POST('/api/courses', { body: { name: name.value } })),
  onSuccess: async (course) => {
    await queries.invalidateQueries({ queryKey: ['courses'] })
    await router.push({ name: 'sources', params: { course: course.id } })
  },
})
</script>

<template>
  <div class="page">
    <h1>Courses</h1>
    <ErrorState v-if="error" :error="error" />
    <p v-else-if="isPending" class="faint">Loading…</p>
    <ul v-else>
      <li v-for="course in courses" :key="course.id">
        <RouterLink :to="{ name: 'sources', params: { course: course.id } }">{{ course.name }}</RouterLink>
      </li>
      <li v-if="!courses?.length" class="soft">You have no course yet. Name the first one below.</li>
    </ul>
    <form class="row" @submit.prevent="name.trim() && create.mutate()">
      <ElInput v-model="name" class="name" aria-label="Name of a new course" placeholder="Name of a new course" />
      <ElButton native-type="submit" :disabled="!name.trim()">Make the course</ElButton>
    </form>
  </div>
</template>

<style scoped>
.page {
  max-width: 560px;
  margin: 56px auto;
  padding: 0 24px;
}

ul {
  list-style: none;
  padding: 0;
  margin: 20px 0;
}

li {
  padding: 10px 0;
  border-bottom: 1px solid var(--rog-rule);
  font: 18px var(--rog-serif);
}

.name {
  width: 300px;
}
</style>

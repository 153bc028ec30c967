<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import { zonesQuery } from '@/api/queries'
import { say, sayProblem } from '@/ui/say'

/** The sections of a course, and by whose clocks its quizzes are told. */
const props = defineProps<{ course: number; detail: Schemas['CourseDetail']; mayEdit: boolean }>()
const queries = useQueryClient()
const { data: zones } = useQuery(zonesQuery())
const zone = ref('UTC')
const sections = ref<{ id: number | null; name: string; students: number }[]>([])
// What is typed stays while anything else of the course changes.
watch(
  () => JSON.stringify([props.detail.time_zone, props.detail.sections]),
  () => {
    zone.value = props.detail.time_zone
    sections.value = props.detail.sections.map((section) => ({ ...section }))
  },
  { immediate: true },
)
const wanted = computed(() => sections.value.filter(({ name }) => name.trim()))
const changed = computed(
  () =>
    zone.value !== props.detail.time_zone ||
    JSON.stringify(wanted.value) !== JSON.stringify(props.detail.sections.map((section) => ({ ...section }))),
)
const here = Intl.DateTimeFormat().resolvedOptions().timeZone
const save = useMutation({
  mutationFn: () =>
    ok(
      client.PUT('/api/courses/{course_id}/time', {
        params: { path: { course_id: props.course } },
        body: { time_zone: zone.value, sections: wanted.value, version: props.detail.time_version },
      }),
    ),
  onSuccess: async () => {
    say('Kept the sections and the clocks of the course.')
    await queries.invalidateQueries({ queryKey: ['course', props.course] })
  },
  onError: sayProblem,
})
</script>

<template>
  <section aria-labelledby="time">
    <h2 id="time">Sections and clocks</h2>
    <p class="soft">
      A section is one running of the course with its students. Its quizzes can have dates of their own.
    </p>
    <form @submit.prevent="save.mutate()">
      <div class="row">
        <label for="zone">Moments are told by the clocks of</label>
        <ElSelect
          id="zone"
          v-model="zone"
          filterable
          :disabled="!mayEdit"
          class="zone"
          aria-label="Time zone of the course"
        >
          <ElOption v-for="name in zones" :key="name" :value="name" :label="name" />
        </ElSelect>
        <button v-if="mayEdit && zone !== here" type="button" class="link-button" @click="zone = here">
          {{ here }}, as here
        </button>
      </div>
      <div v-for="(section, n) in sections" :key="n" class="row section">
        <ElInput v-model="section.name" class="name" :disabled="!mayEdit" :aria-label="`Name of section ${n + 1}`" />
        <ElInputNumber
          v-model="section.students"
          :min="0"
          :max="10000"
          :controls="false"
          class="count"
          :disabled="!mayEdit"
          :aria-label="`Students of section ${n + 1}`"
        />
        students
        <button v-if="mayEdit" type="button" class="link-button faint" @click="sections.splice(n, 1)">
          Drop section {{ section.name || n + 1 }}
        </button>
      </div>
      <div v-if="mayEdit" class="row section">
        <ElButton @click="sections.push({ id: null, name: '', students: 0 })">Add a section</ElButton>
        <ElButton type="primary" native-type="submit" :disabled="!changed" :loading="save.isPending.value"
          >Keep them</ElButton
        >
      </div>
    </form>
  </section>
</template>

<style scoped>
.zone {
  width: 240px;
}

.section {
  margin-top: 8px;
}

.name {
  width: 240px;
}

.count {
  width: 74px;
}
</style>

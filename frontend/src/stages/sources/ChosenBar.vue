<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import { client, ok, type Schemas } from '@/api/client'
import { jobsQuery } from '@/api/queries'
import { sayProblem } from '@/ui/say'

import { sums } from './grouped'

/** What can be done with the sources that are chosen: take them as one, compare two, set them aside. */
const props = defineProps<{ course: number; chosen: Schemas['SourceOut'][] }>()
const emit = defineEmits<{ take: []; aside: []; none: [] }>()
const router = useRouter()
const told = computed(() => sums(props.chosen))
const waitedFor = ref<string>()
const { data: jobs } = useQuery(computed(() => jobsQuery(props.course)))
const compare = useMutation({
  mutationFn: () =>
    ok(
      client.POST('/api/courses/{course_id}/compare', {
        params: { path: { course_id: props.course } },
        body: { a: props.chosen[0]?.id ?? 0, b: props.chosen[1]?.id ?? 0 },
      }),
    ),
  onSuccess: (job) => (waitedFor.value = job.id),
  onError: sayProblem,
})
const job = computed(() => jobs.value?.find((entry) => entry.id === waitedFor.value))
watch(job, (now) => {
  if (now?.state === 'done' && now.result?.comparison)
    void router.push({
      name: 'comparison',
      params: { course: props.course, comparison: Number(now.result.comparison) },
    })
})
const busy = computed(() => compare.isPending.value || ['waiting', 'running'].includes(job.value?.state ?? ''))
</script>

<template>
  <div class="chosen" role="region" aria-label="Chosen sources">
    <strong>{{ chosen.length }} {{ chosen.length === 1 ? 'source' : 'sources' }} chosen</strong>
    <span class="soft">{{ told.sound }} sound of {{ told.waiting }} that wait</span>
    <span class="grow" />
    <ElButton v-if="chosen.length === 2" :loading="busy" @click="compare.mutate()">Compare</ElButton>
    <ElButton @click="emit('aside')">Set aside</ElButton>
    <ElButton :disabled="!told.waiting" @click="emit('take')">Take them as one <kbd>t</kbd></ElButton>
    <button type="button" class="link-button" @click="emit('none')">Choose none</button>
  </div>
</template>

<style scoped>
.chosen {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  margin-top: 18px;
  padding: 10px 14px;
  background: var(--rog-raised);
  border: 1px solid var(--rog-rule-strong);
}

.grow {
  flex: 1;
}
</style>

<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import { nextTick, ref, watch } from 'vue'

import { client, ok, type Schemas } from '@/api/client'
import type { Roles } from '@/stages/sources/lineRoles'
import TextWithRoles from '@/stages/sources/TextWithRoles.vue'
import { sayProblem } from '@/ui/say'

const open = defineModel<boolean>({ required: true })
const props = defineProps<{ course: number; reading: Schemas['ReadingOut']; first: number | null }>()
const emit = defineEmits<{ done: [number] }>()
const text = ref('')
const roles = ref<Roles>({ ...props.reading.roles })
const field = ref<InstanceType<typeof TextWithRoles>>()
const path = { params: { path: { reading_id: props.reading.id } } }
const { data } = useQuery({
  queryKey: ['text', props.reading.id],
  queryFn: () => ok(client.GET('/api/readings/{reading_id}/text', path)),
  gcTime: 0,
})

watch(
  data,
  async (loaded) => {
    if (!loaded) return
    text.value = loaded.text
    await nextTick()
    field.value?.goTo(props.first ?? 1)
  },
  { immediate: true },
)

const save = useMutation({
  mutationFn: () =>
    ok(client.PUT('/api/readings/{reading_id}/text', { ...path, body: { text: text.value, roles: roles.value } })),
  onSuccess: ({ reading }) => {
    open.value = false
    emit('done', reading)
  },
  onError: sayProblem,
})
</script>

<template>
  <ElDialog v-model="open" title="Correct the text" width="960" append-to-body>
    <p class="soft">It is read again when you save. Items that read as before keep what you did with them.</p>
    <TextWithRoles
      ref="field"
      v-model="text"
      v-model:roles="roles"
      :course="course"
      :format="reading.format"
      label="Text of the source"
      height="56vh"
      @keydown.ctrl.enter="save.mutate()"
    />
    <template #footer>
      <ElButton @click="open = false">Leave it as it was</ElButton>
      <ElButton type="primary" :loading="save.isPending.value" @click="save.mutate()">Save and read again</ElButton>
    </template>
  </ElDialog>
</template>

<script setup lang="ts">
import { computed, ref, useId, watch } from 'vue'

import { readMoment } from '@/ui/typedMoment'
import { moment as told, momentOf, wallOf } from '@/ui/zoned'

/** A moment, as the clocks of the course show it: typed in words or figures, or picked. What is not understood stays and is said. */
const moment = defineModel<string | null | undefined>({ required: true })
/** With `end` a day alone means its last minute, else its first. */
const props = defineProps<{ zone: string; label: string; placeholder?: string; end?: boolean }>()
const usualTime = computed(() => (props.end ? new Date(2000, 0, 1, 23, 59) : new Date(2000, 0, 1, 0, 0)))
const shown = () => (moment.value ? told(moment.value, props.zone) : '')
const text = ref(shown())
const wrong = ref('')
const problem = useId()

function settle(): void {
  text.value = shown()
  wrong.value = ''
}
watch([moment, () => props.zone], settle)
function read(): void {
  if (text.value.trim() === shown()) return settle()
  const meant = text.value.trim() ? readMoment(text.value, props.zone, props.end) : null
  if (meant === undefined) {
    wrong.value = text.value
    return
  }
  moment.value = meant
  settle()
}
const wall = computed({
  get: () => wallOf(moment.value, props.zone),
  set: (value: string | null) => {
    moment.value = momentOf(value, props.zone)
    settle()
  },
})
</script>

<template>
  <span class="moment">
    <ElInput
      v-model="text"
      :placeholder="placeholder ?? 'not set'"
      :aria-label="label"
      :aria-invalid="Boolean(wrong)"
      :aria-describedby="wrong ? problem : undefined"
      @change="read"
      @keydown.enter.prevent="read"
    />
    <ElDatePicker
      v-model="wall"
      class="pick"
      type="datetime"
      value-format="YYYY-MM-DDTHH:mm"
      format="D MMM YYYY, HH:mm"
      date-format="D MMM YYYY"
      time-format="HH:mm"
      :editable="false"
      :automatic-dropdown="false"
      :clearable="false"
      :default-time="usualTime"
      :aria-label="`Pick: ${label}`"
    />
    <span v-if="wrong" :id="problem" class="wrong" role="alert"
      >“{{ wrong }}” is no date and time that is understood. Write it as “7 Dec 2026, 14:00” or “next friday 5pm”; what
      was set before still holds.</span
    >
  </span>
</template>

<style>
.moment {
  display: grid;
  grid-template-columns: minmax(190px, 1fr) 34px;
  align-content: start;
  align-items: start;
}

.moment .el-date-editor.el-input.pick {
  --el-date-editor-width: 34px;
  width: 34px;
}

.moment .pick .el-input__inner {
  width: 0;
  padding: 0;
}

.moment .pick .el-input__wrapper {
  padding: 0 9px;
  cursor: pointer;
}

.moment .wrong {
  grid-column: 1 / -1;
  max-width: 46ch;
  color: var(--rog-signal);
  font-size: 12.5px;
}
</style>

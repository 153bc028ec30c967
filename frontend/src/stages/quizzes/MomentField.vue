<script setup lang="ts">
import { computed } from 'vue'

import { moment as told, momentOf, wallOf } from '@/ui/zoned'

/** A moment, as the clocks of the course show it; its weekday stands before it. */
const moment = defineModel<string | null | undefined>({ required: true })
/** With `end` a day that is picked means its last minute, else its first. */
const props = defineProps<{ zone: string; label: string; placeholder?: string; end?: boolean }>()
const usualTime = computed(() => (props.end ? new Date(2000, 0, 1, 23, 59) : new Date(2000, 0, 1, 0, 0)))
const wall = computed({
  get: () => wallOf(moment.value, props.zone),
  set: (value: string | null) => (moment.value = momentOf(value, props.zone)),
})
const weekday = computed(() => (moment.value ? told(moment.value, props.zone).slice(0, 3) : ''))
</script>

<template>
  <span class="moment">
    <ElDatePicker
      v-model="wall"
      type="datetime"
      value-format="YYYY-MM-DDTHH:mm"
      format="D MMM YYYY, HH:mm"
      date-format="D MMM YYYY"
      time-format="HH:mm"
      :default-time="usualTime"
      :placeholder="placeholder ?? 'not said'"
      :aria-label="label"
    />
    <span v-if="weekday" class="weekday" aria-hidden="true">{{ weekday }}</span>
  </span>
</template>

<style>
.moment {
  position: relative;
  display: block;
  min-width: 190px;
}

.moment .el-date-editor.el-input {
  --el-date-editor-width: 100%;
  width: 100%;
}

.moment:has(.weekday) .el-input__inner {
  padding-left: 34px;
}

.weekday {
  position: absolute;
  left: 33px;
  top: 50%;
  transform: translateY(-50%);
  color: var(--rog-ink-faint);
  pointer-events: none;
}
</style>

<script setup lang="ts">
import { ref, watch } from 'vue'

import { numberOf, type Wish } from './wishes'

/** Typed numbers made numeric, with a tolerance; or their units parted from them. */
const wish = defineModel<Wish | undefined>({ required: true })
const units = ref(false)
const tolerance = ref('0')
const relative = ref(false)
watch(
  [units, tolerance, relative],
  () => {
    const typed = numberOf(tolerance.value)
    if (units.value) wish.value = { kind: 'part-units' }
    else
      wish.value = typed === undefined ? undefined : { kind: 'to-numeric', tolerance: typed, relative: relative.value }
  },
  { immediate: true },
)
</script>

<template>
  <p>
    <label><input v-model="units" type="radio" :value="false" /> make typed answers that are numbers numeric</label>
  </p>
  <p class="row inner">
    with a tolerance of ± <input v-model="tolerance" aria-label="Tolerance" inputmode="decimal" :disabled="units" />
    <label><input v-model="relative" type="checkbox" :disabled="units" /> per cent of the value</label>
  </p>
  <p>
    <label
      ><input v-model="units" type="radio" :value="true" /> part units from numbers: “1.4 g/cm³” is 1.4, in g/cm³</label
    >
  </p>
</template>

<style scoped>
.inner {
  padding-left: 22px;
}

.inner input:not([type]) {
  width: 76px;
}
</style>

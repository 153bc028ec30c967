import { useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'

/** How what is taken into pools is named and below which pool it comes; the pattern and the purpose are remembered. */
export function useTaking() {
  const pattern = useStorage('rogatum-pattern', '{chapter}')
  const purpose = useStorage('rogatum-purpose', '')
  const pool = ref<number>()
  const duplicatesToo = ref(false)
  const said = computed(() => ({
    pattern: pattern.value || '{chapter}',
    purpose: purpose.value,
    pool: pool.value ?? null,
    duplicates_too: duplicatesToo.value,
  }))
  return { pattern, purpose, pool, duplicatesToo, said }
}

export type Taking = ReturnType<typeof useTaking>

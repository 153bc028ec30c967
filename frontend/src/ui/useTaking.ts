import { computed, ref } from 'vue'

import { useRemembered } from './remembered'

/** How what is taken into pools is named and below which pool it comes; the course remembers the pattern and the purpose. */
export function useTaking() {
  const pattern = useRemembered<string>('pattern', '{chapter}')
  const purpose = useRemembered<string>('purpose', '')
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

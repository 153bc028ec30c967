import { useStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

export type Theme = 'system' | 'light' | 'dark'
export const theme = useStorage<Theme>('rogatum-theme', 'system')
const dark = window.matchMedia?.('(prefers-color-scheme: dark)')

function apply(): void {
  const isDark = theme.value === 'dark' || (theme.value === 'system' && Boolean(dark?.matches))
  document.documentElement.classList.toggle('dark', isDark)
}

watchEffect(apply)
dark?.addEventListener?.('change', apply)

export function nextTheme(): void {
  theme.value = theme.value === 'system' ? 'dark' : theme.value === 'dark' ? 'light' : 'system'
}

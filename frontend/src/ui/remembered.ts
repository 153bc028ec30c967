import { useStorage } from '@vueuse/core'

import { useCourse } from './useCourse'

/** A choice that belongs to a course: remembered there, and another course begins with its own. */
export function useRemembered<T extends string | number | boolean | string[]>(name: string, usual: T) {
  const course = useCourse()
  return useStorage<T>(() => `rogatum-${name}-of-${course.value}`, usual)
}

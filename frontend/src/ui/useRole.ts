import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

import { courseQuery } from '@/api/queries'

/** What one is in a course, and whose it is: a reader is shown nothing that changes it. */
export function useRole(course: Ref<number>) {
  const { data } = useQuery(computed(() => courseQuery(course.value)))
  return {
    course: data,
    role: computed(() => data.value?.role ?? ''),
    mayEdit: computed(() => data.value?.role === 'owner' || data.value?.role === 'editor'),
    isOwner: computed(() => data.value?.role === 'owner'),
  }
}

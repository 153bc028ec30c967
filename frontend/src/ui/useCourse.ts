import { computed } from 'vue'
import { useRoute } from 'vue-router'

/** The course of the current address. */
export function useCourse() {
  const route = useRoute()
  return computed(() => Number(route.params.course))
}

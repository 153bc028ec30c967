import { ref } from 'vue'

/** Moving rows of a list by dragging and by keys. What is dragged is told by a name; a row says where it would land. */
export interface Order<Name> {
  dragged: Name
  over: Name
  /** Whether it lands behind the row that it is over. */
  behind: boolean
}

export function useOrder<Name>(dropped: (moved: Order<Name>) => void) {
  const dragged = ref<Name>()
  const over = ref<Name>()
  const behind = ref(false)

  function start(event: DragEvent, name: Name): void {
    dragged.value = name as never
    event.dataTransfer?.setData('text/plain', '')
    if (event.dataTransfer) event.dataTransfer.effectAllowed = 'move'
    event.stopPropagation()
  }
  function hover(event: DragEvent, name: Name): void {
    if (dragged.value === undefined) return
    event.preventDefault()
    event.stopPropagation()
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
    over.value = name as never
    behind.value = event.clientY > box.top + box.height / 2
  }
  function drop(event: DragEvent): void {
    event.preventDefault()
    event.stopPropagation()
    const [from, to] = [dragged.value as Name | undefined, over.value as Name | undefined]
    const after = behind.value
    end()
    if (from !== undefined && to !== undefined && from !== to) dropped({ dragged: from, over: to, behind: after })
  }
  function end(): void {
    dragged.value = undefined
    over.value = undefined
  }
  return { dragged, over, behind, start, hover, drop, end }
}

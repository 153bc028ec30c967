import { measureElement, type Virtualizer } from '@tanstack/vue-virtual'

/**
 * The size of a row as it is told after the page was laid out, before it is painted; until then the one it had, or is thought to
 * have. To ask each new row for its size would lay the page out once for each.
 */
export function measuredLater(
  row: Element,
  told: ResizeObserverEntry | undefined,
  list: Virtualizer<HTMLElement, Element>,
): number {
  if (told) return measureElement(row, told, list)
  const index = list.indexFromElement(row)
  return list.itemSizeCache.get(list.options.getItemKey(index)) ?? list.options.estimateSize(index)
}

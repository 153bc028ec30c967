/** Puts the cursor into a field when it appears. */
export const vFocus = {
  mounted: (element: HTMLElement) => (element.querySelector<HTMLElement>('input, textarea, select') ?? element).focus(),
}

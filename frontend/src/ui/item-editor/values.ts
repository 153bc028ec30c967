/** Values of metadata as they are typed: parted by semicolons. */
export function partedValues(text: string): string[] {
  return text
    .split(';')
    .map((value) => value.trim())
    .filter(Boolean)
}

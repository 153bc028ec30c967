export const TYPE_WORDS: Record<string, string> = {
  multiple_choice: 'multiple choice',
  multiple_response: 'multiple response',
  true_false: 'true/false',
  fill_in: 'fill-in',
  numeric: 'numeric',
  cloze: 'cloze',
  matching: 'matching',
  ordering: 'ordering',
  essay: 'essay',
  information: 'information',
  preserved: 'preserved',
}

export const FORMAT_WORDS: Record<string, string> = {
  'qti-1.2': 'QTI 1.2',
  'qti-2.1': 'QTI 2.1',
  'qti-2.2': 'QTI 2.2',
  'qti-3.0': 'QTI 3.0',
  'common-cartridge': 'Common Cartridge',
  gift: 'GIFT',
  'marked-text': 'Marked text',
  docx: 'Word document',
  odt: 'OpenDocument text',
  rtf: 'RTF',
  html: 'Web page',
  markdown: 'Markdown',
  sheet: 'Sheet',
  pdf: 'Print',
  'items-json': 'Rogatum items',
}

export function points(value: number | null | undefined): string {
  if (value === null || value === undefined) return 'no points'
  return `${Number(value.toFixed(3))} ${value === 1 ? 'point' : 'points'}`
}

export function items(count: number): string {
  return `${count.toLocaleString('en')} ${count === 1 ? 'item' : 'items'}`
}

export function size(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  return bytes < 1_000_000 ? `${(bytes / 1000).toFixed(0)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`
}

export function when(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
}

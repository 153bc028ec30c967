export interface DroppedGroup {
  files: File[]
  /** The files' paths where they are one folder; empty where each file is a source of its own. */
  paths: string[]
}

/** What was dropped: loose files as one group, each folder as a group of its own with its paths. */
export async function filesOfDrop(data: DataTransfer): Promise<DroppedGroup[]> {
  const entries = [...data.items]
    .map((item) => item.webkitGetAsEntry?.())
    .filter((entry) => entry !== null && entry !== undefined)
  const folders = entries.filter((entry) => entry.isDirectory)
  if (!folders.length) return data.files.length ? [{ files: [...data.files], paths: [] }] : []
  const groups: DroppedGroup[] = []
  for (const folder of folders) {
    const files: File[] = []
    const paths: string[] = []
    await walk(folder as FileSystemDirectoryEntry, files, paths)
    if (files.length) groups.push({ files, paths })
  }
  const loose: File[] = []
  for (const entry of entries.filter((entry) => entry.isFile)) loose.push(await fileOf(entry as FileSystemFileEntry))
  if (loose.length) groups.push({ files: loose, paths: [] })
  return groups
}

async function walk(folder: FileSystemDirectoryEntry, files: File[], paths: string[]): Promise<void> {
  for (const entry of await childrenOf(folder)) {
    if (entry.isDirectory) await walk(entry as FileSystemDirectoryEntry, files, paths)
    else {
      files.push(await fileOf(entry as FileSystemFileEntry))
      paths.push(entry.fullPath.replace(/^\//, ''))
    }
  }
}

/** A folder's reader gives its entries in batches; an empty batch is the end. */
async function childrenOf(folder: FileSystemDirectoryEntry): Promise<FileSystemEntry[]> {
  const reader = folder.createReader()
  const found: FileSystemEntry[] = []
  for (;;) {
    const batch = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject))
    if (!batch.length) return found
    found.push(...batch)
  }
}

function fileOf(entry: FileSystemFileEntry): Promise<File> {
  return new Promise((resolve, reject) => entry.file(resolve, reject))
}

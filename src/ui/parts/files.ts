/** Asks for files with the browser's own dialog. */
export function chooseFiles(endings: readonly string[], several = false): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input')
    input.type = 'file'
    input.accept = endings.join(',')
    input.multiple = several
    input.addEventListener('change', () => resolve([...(input.files ?? [])]))
    input.addEventListener('cancel', () => resolve([]))
    input.click()
  })
}

/** Hands a file to the person. */
export function saveFile(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 60000)
}

/** A name as a file name that every system takes. */
export function fileName(name: string, extension: string): string {
  const safe = name.replace(/[^\p{L}\p{N} _.-]/gu, '').trim().replace(/\s+/g, '-') || 'meadow'
  return `${safe}.${extension}`
}

/** Bytes in words. */
export function sizeText(bytes: number): string {
  if (bytes < 1000) return `${bytes} bytes`
  if (bytes < 1e6) return `${(bytes / 1e3).toFixed(0)} kB`
  if (bytes < 1e9) return `${(bytes / 1e6).toFixed(1)} MB`
  return `${(bytes / 1e9).toFixed(2)} GB`
}

/** Models, and what they may need. */
export interface ChosenModels {
  readonly file: File
  readonly more: readonly File[]
  readonly beside: readonly File[]
}

/** Sorts files into models and what lies beside them; null when there are none. Without any model the first file stands for one. */
export function sortModels(files: readonly File[], isModel: (name: string) => boolean): ChosenModels | null {
  const models = files.filter(({ name }) => isModel(name))
  const [file, ...more] = models.length > 0 ? models : files.slice(0, 1)
  return file ? { file, more, beside: files.filter((one) => one !== file && !more.includes(one)) } : null
}

/** Asks for models, with what they may need. */
export async function chooseModels(endings: readonly string[], besides: readonly string[]): Promise<ChosenModels | null> {
  return sortModels(await chooseFiles([...endings, ...besides], true), (name) => endings.some((ending) => name.toLowerCase().endsWith(ending)))
}

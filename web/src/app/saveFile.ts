/** Hand bytes to the browser, to be saved as a file. */
export function saveFile(content: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

/** The same with a document. */
export const saveJson = (content: unknown, name: string) => saveFile(new Blob([JSON.stringify(content, null, 1)], { type: 'application/json' }), name)

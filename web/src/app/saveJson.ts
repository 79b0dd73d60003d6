/** Hand a document to the browser, to be saved as a file. */
export function saveJson(content: unknown, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([JSON.stringify(content, null, 1)], { type: 'application/json' }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}

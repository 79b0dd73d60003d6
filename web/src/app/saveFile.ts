/** Let the browser fetch a file from an address, and save it. */
export function followLink(address: string, name = ''): void {
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
}

/** Hand bytes to the browser, to be saved as a file. */
export function saveFile(content: Blob, name: string): void {
  const address = URL.createObjectURL(content)
  followLink(address, name)
  URL.revokeObjectURL(address)
}

/** The same with a document. */
export const saveJson = (content: unknown, name: string) =>
  saveFile(new Blob([JSON.stringify(content, null, 1)], { type: 'application/json' }), name)

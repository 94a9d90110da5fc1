/** Hands a text of JSON to the browser, to be kept as a file of that name. */
export function saveAsFile(name: string, json: string): void {
  const url = URL.createObjectURL(new Blob([json], { type: 'application/json' }))
  Object.assign(document.createElement('a'), { href: url, download: name }).click()
  setTimeout(() => URL.revokeObjectURL(url))
}

/** A name that any file system takes, from a title. */
export const nameOfFile = (title: string, ending: string): string => `${title.replace(/[^\p{L}\p{N}]+/gu, ' ').trim().slice(0, 60) || 'Half Step'}.${ending}`

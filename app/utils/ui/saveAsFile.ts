/** Hands bytes to the browser, to be kept as a file of that name. */
export function saveBlob(name: string, blob: Blob): void {
  const url = URL.createObjectURL(blob)
  Object.assign(document.createElement('a'), { href: url, download: name }).click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}

/** Hands a text of JSON to the browser, to be kept as a file of that name. */
export const saveAsFile = (name: string, json: string): void =>
  saveBlob(name, new Blob([json], { type: 'application/json' }))

/** A name that any file system takes, from a title. */
export const nameOfFile = (title: string, ending: string): string =>
  `${
    title
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim()
      .slice(0, 60) || 'Half Step'
  }.${ending}`

/**
 * Characters no text needs and that databases and pages stumble over: control characters except tabs and line ends, and
 * halves of surrogate pairs.
 */
const UNPLAIN = /(?![\t\n\r])\p{Cc}|\p{Cs}/u
const ALL_UNPLAIN = new RegExp(UNPLAIN, 'gu')

export const isPlainText = (text: string): boolean => !UNPLAIN.test(text)

/** The text without such characters, cut to at most `most` UTF-16 units, never in the middle of a pair. */
export function plainText(text: string, most = Infinity): string {
  const cut = text.length > most ? text.slice(0, most) : text
  return isPlainText(cut) ? cut : cut.replaceAll(ALL_UNPLAIN, '')
}

/** The path ("parts.2.name") of the first text with such characters; undefined when all are plain. */
export function unplainTextIn(data: unknown): string | undefined {
  const open: [place: string, value: unknown][] = [['', data]]
  for (let next = open.pop(); next; next = open.pop()) {
    const [place, value] = next
    if (typeof value === 'string') {
      if (!isPlainText(value)) return place
    } else if (typeof value === 'object' && value !== null) {
      for (const [key, one] of Object.entries(value)) {
        if (typeof one === 'number' || typeof one === 'boolean') continue
        const at = place ? `${place}.${key}` : key
        if (!isPlainText(key)) return at.replaceAll(ALL_UNPLAIN, '?')
        open.push([at, one])
      }
    }
  }
  return undefined
}

/** The same data with all its texts plain; data that is plain already is returned unchanged. */
export function withPlainText<Data>(data: Data): Data {
  if (typeof data === 'string') return plainText(data) as Data
  if (Array.isArray(data)) {
    let changed: unknown[] | undefined
    for (let index = 0; index < data.length; index++) {
      const one = withPlainText(data[index] as unknown)
      if (one !== data[index]) (changed ??= [...(data as unknown[])])[index] = one
    }
    return (changed ?? data) as Data
  }
  if (typeof data !== 'object' || data === null) return data
  let changed: Record<string, unknown> | undefined
  for (const [key, one] of Object.entries(data)) {
    const plain = withPlainText(one as unknown)
    if (plain !== one) (changed ??= { ...data } as Record<string, unknown>)[key] = plain
  }
  return (changed ?? data) as Data
}

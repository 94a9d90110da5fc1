import { plural } from './amounts'

/** Bytes as people say them: "840 kB", "12 MB". */
export function bytesText(bytes: number): string {
  if (bytes < 1_000) return `${bytes} bytes`
  return bytes < 999_500
    ? `${Math.round(bytes / 1_000)} kB`
    : `${(bytes / 1_000_000).toFixed(bytes < 10_000_000 ? 1 : 0)} MB`
}

/** What a restored archive added to the account, and how much it held (`of`). */
export interface RestoredCounts {
  songs: number
  patterns: number
  passes: number
  days: number
  settings: boolean
  of: { songs: number; patterns: number; passes: number }
}

/** What came back out of an archive, and what was there already, in one or two sentences. */
export function restoredText({ songs, patterns, passes, days, settings, of }: RestoredCounts): string {
  const parts = [
    songs > 0 ? plural(songs, 'song') : '',
    passes > 0 ? plural(passes, 'pass', 'passes') : '',
    patterns > 0 ? plural(patterns, 'pattern') : '',
    days > 0 ? plural(days, 'day') : '',
    settings ? 'your settings' : '',
  ].filter(part => part !== '')
  if (parts.length === 0) return 'Everything in this archive is here already; nothing was changed.'
  const known = of.songs - songs + of.passes - passes + of.patterns - patterns
  return `Restored: ${new Intl.ListFormat('en').format(parts)}.${known > 0 ? ' The rest was here already.' : ''}`
}

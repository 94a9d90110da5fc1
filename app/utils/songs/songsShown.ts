/** A song as it is listed. */
export interface ListedSong {
  title: string
  composer: string
  passes: number
  lastPractised: string | null
}

export const SONG_ORDERS = { 'last-played': 'last played', title: 'title', passes: 'most practised' } as const
export type SongOrder = keyof typeof SONG_ORDERS
export const SONG_FILTERS = { all: 'all songs', started: 'in progress', new: 'not started' } as const
export type SongFilter = keyof typeof SONG_FILTERS

/** Songs seen at a glance; more are searched and sorted. */
export const MAX_UNSORTED = 8

/** Letters alone: without case and accents. */
const plain = (text: string): string => text.normalize('NFD').replaceAll(/\p{M}/gu, '').toLowerCase()

/** The songs that are asked for, in the order asked for. Every word of `wanted` is looked for in title and composer. */
export function songsShown<Song extends ListedSong>(
  songs: readonly Song[],
  { wanted, order, filter }: { wanted: string; order: SongOrder; filter: SongFilter },
): Song[] {
  const words = plain(wanted)
    .split(/\s+/)
    .filter(word => word !== '')
  const found = songs.filter(
    song =>
      (filter === 'all' || (filter === 'started') === song.passes > 0) &&
      words.every(word => plain(`${song.title} ${song.composer}`).includes(word)),
  )
  const byTitle = (a: Song, b: Song) => a.title.localeCompare(b.title, 'en')
  if (order === 'title') return found.sort(byTitle)
  if (order === 'passes') return found.sort((a, b) => b.passes - a.passes || byTitle(a, b))
  return found.sort((a, b) => (b.lastPractised ?? '').localeCompare(a.lastPractised ?? '') || byTitle(a, b))
}

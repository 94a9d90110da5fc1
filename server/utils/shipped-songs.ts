/** Songs that come with the program, for players without any: composed for it. The easiest first. */
export const SHIPPED_SONGS = [
  { file: 'snow-on-the-towpath.musicxml', title: 'Snow on the Towpath' },
  { file: 'lantern-ferry.musicxml', title: 'The Lantern Ferry' },
  { file: 'tide-clerk.musicxml', title: 'The Tide Clerk' },
  { file: 'side-street-shuffle.musicxml', title: 'Side Street Shuffle' },
  { file: 'upper-deck.cho', title: 'Upper Deck, Window Side' },
] as const

/** A file that comes with the program (demo/). */
export async function shippedFile(name: string): Promise<Uint8Array> {
  // The build packs what it takes for text as text, the rest as bytes.
  const packed = await useStorage('assets:demo').getItemRaw<Uint8Array | string>(name)
  if (!packed) throw new Error(`demo/${name} is missing from the build`)
  return typeof packed === 'string' ? new TextEncoder().encode(packed) : new Uint8Array(packed)
}

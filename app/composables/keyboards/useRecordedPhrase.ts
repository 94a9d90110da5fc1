import type { Ref } from 'vue'

/** What was played by the way and is to become a song, on its way to where songs are added: a MIDI file. */
export const useRecordedPhrase = (): Ref<{ name: string; bytes: Uint8Array } | undefined> => playedIn
const playedIn = shallowRef<{ name: string; bytes: Uint8Array }>()

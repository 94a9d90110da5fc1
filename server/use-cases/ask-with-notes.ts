import type { Arrangement } from '#core/music/arrangement'

/** Asks a thread for something about notes; they go along only when the thread does not know them. */
export async function askWithNotes<Made>(
  load: () => Promise<Arrangement> | Arrangement,
  ask: (arrangement?: Arrangement) => Promise<Made | 'unknown'>,
): Promise<Made> {
  const made = await ask()
  return made === 'unknown' ? ((await ask(await load())) as Made) : made
}

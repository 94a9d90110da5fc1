import { computed, type Ref } from 'vue'
import type { renderAccompaniment } from '#core/accompany/along'
import { handsIn, type Arrangement, type Hand, type Hands } from '#core/music/arrangement'
import { playedPassage, type ScoreSpan } from '#core/music/passage'
import type { Quarters } from '#core/music/quarters'
import { withPedal, type RenderedScore, type SoundEvent } from '#core/sound/performance'
import type { PlayAlong } from '#shared/utils/sound'
import type { Sound } from '~/sound/sound'
import { useSound } from '../sound/useSound'

/** What is practised, as far as an accompaniment has to know it. */
export interface Practised {
  stretch: ScoreSpan
  hands: Hands
  bpm: number
  turn?: 'program' | 'player'
}

const MAX_REMEMBERED = 4

const NOTHING = {
  performance: { voices: [], events: [], pedals: [], tempos: [], lengthMs: 0 } satisfies RenderedScore,
  events: [],
}

/**
 * The accompaniment on the Stand: rendered from the player's choice, once for each span and tempo, with its voices
 * loaded. `ends`: where parts end. The code that makes it is loaded on first use; then `loaded` is called.
 */
export function usePlayAlong(
  arrangement: Arrangement,
  along: Ref<PlayAlong>,
  {
    ends,
    loaded = () => {},
    startSound = useSound().start,
  }: { ends: () => readonly Quarters[]; loaded?: () => void; startSound?: () => Promise<Pick<Sound, 'prepare'>> },
) {
  let perform: typeof renderAccompaniment | undefined
  const load = async () => {
    perform ??= (await import('#core/accompany/along')).renderAccompaniment
  }
  const roles = arrangement.others.flatMap(({ silent }, index) => (silent ? [] : [index]))
  /** Performances by what they are of; the oldest are forgotten. */
  const remembered = new Map<string, { performance: RenderedScore; events: readonly SoundEvent[] }>()

  function soundingHands({ hands, turn }: Practised): Hand[] {
    const others =
      along.value.otherHand && hands !== 'both' ? [hands === 'right' ? ('left' as const) : ('right' as const)] : []
    return turn === 'program' ? [...handsIn(hands), ...others] : others
  }

  function isSilent(practised: Practised): boolean {
    const { guide, roles: withRoles, band } = along.value
    return soundingHands(practised).length === 0 && !guide && !(withRoles && roles.length > 0) && !band
  }

  function made(practised: Practised) {
    if (isSilent(practised)) return NOTHING
    if (!perform) {
      void load().then(loaded)
      return NOTHING
    }
    const { stretch, hands, bpm, turn } = practised
    const name = JSON.stringify([stretch, hands, bpm, turn, along.value, ends()])
    const known = remembered.get(name)
    if (known) return known
    const { octaves, guide, roles: withRoles, band } = along.value
    const performance = perform(
      arrangement,
      playedPassage(arrangement, stretch, hands),
      {
        hands: soundingHands(practised),
        octaves: turn === 'program' ? 0 : octaves,
        guide,
        roles: withRoles ? roles : [],
        band: band ?? undefined,
      },
      bpm,
      ends(),
    )
    const one = { performance, events: withPedal(performance) }
    remembered.set(name, one)
    if (remembered.size > MAX_REMEMBERED) remembered.delete(remembered.keys().next().value!)
    if (performance.voices.length > 0)
      void startSound()
        .then(async sound => await sound.prepare(performance.voices))
        .catch(() => {})
    return one
  }

  return {
    /** The accompaniment: ms from the beginning at the practised tempo. */
    events: (practised: Practised): readonly SoundEvent[] => made(practised).events,
    performance: async (practised: Practised): Promise<RenderedScore> => {
      await load()
      return made(practised).performance
    },
    isOn: computed(
      () =>
        along.value.otherHand ||
        along.value.guide ||
        (along.value.roles && roles.length > 0) ||
        Boolean(along.value.band) ||
        along.value.turns !== 'off',
    ),
  }
}

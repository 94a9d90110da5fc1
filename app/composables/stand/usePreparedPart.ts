import type { StandPart } from './practised'
import { onScopeDispose, ref, watch } from 'vue'
import { compare } from '#core/music/quarters'
import { barsOfSpan } from '#core/music/marked'
import type { ScoreSpan } from '#core/music/passage'
import { otherStaves } from '~/utils/stand/sizes'
import { useSettingsStore } from '~/stores/settings'
import { useEngraver } from '../notation/useEngraver'

/** What is likely to be played next: a part, or a stretch that begins in it. */
export interface LikelyNext {
  partId: string
  stretch?: ScoreSpan
}

const prepared = new Map<string, StandPart>()

/** A part that the page before had fetched already. */
export const preparedPart = (partId: string): StandPart | undefined => prepared.get(partId)

/**
 * While a page rests that leads to the Stand, what it leads to is fetched and its bars are measured, so that the music
 * is there at once. What was fetched is let go of with the page: on another one it may have been changed meanwhile.
 */
export function usePreparedPart(
  next: () => LikelyNext | undefined,
  {
    settings = useSettingsStore(),
    engraver = useEngraver(),
    fetchPart = async (id: string): Promise<StandPart> => await $fetch<StandPart>(`/api/parts/${id}`),
    rests = onNuxtReady,
    preload = preloadRouteComponents,
  } = {},
) {
  let isLeft = false
  onScopeDispose(() => {
    isLeft = true
    prepared.clear()
  })

  /** Where it cannot be prepared, the Stand fetches it itself and says what is wrong. */
  async function prepare({ partId, stretch }: LikelyNext) {
    const [part] = await Promise.all([fetchPart(partId), settings.load(), preload(`/stand/${partId}`)])
    if (isLeft) return
    prepared.set(partId, part)
    const isBeyond =
      stretch && (compare(stretch.from, part.stretch.from) < 0 || compare(stretch.to, part.stretch.to) > 0)
    const [firstBar, lastBar] = barsOfSpan(part.arrangement, isBeyond ? stretch : part.stretch)
    await engraver.sizes(
      { scoreId: part.arrangementId, musicXml: part.musicXml },
      { firstBar, lastBar, drawn: otherStaves(part.roleParts, settings.stand) },
    )
  }

  const isAtRest = ref(false)
  rests(() => {
    isAtRest.value = true
  })
  watch(
    () => (isAtRest.value ? next()?.partId : undefined),
    () => {
      const now = isAtRest.value ? next() : undefined
      if (now) prepare(now).catch(() => {})
    },
    { immediate: true },
  )
}

import { computed } from 'vue'
import type { Finding } from '#core/ear/finding'
import { findingTexts, passSentence } from '#core/words/findings'
import { useSettingsStore } from '~/stores/settings'
import { toldSentence, type ToldPass } from '#core/words/passes'

/** What the core has found, in words, with the player's own note names. */
export function useWording(settings: Pick<ReturnType<typeof useSettingsStore>, 'noteNames'> = useSettingsStore()) {
  const wording = computed(() => ({ noteNames: settings.noteNames }))
  return {
    wording,
    /** The one sentence shown after a pass. */
    sentenceOf: (findings: readonly Finding[]): string => passSentence(findings, wording.value),
    /** One sentence for each finding, in their order. */
    sentencesOf: (findings: readonly Finding[]): string[] => findingTexts(findings, wording.value),
    /** The one sentence of a kept pass. */
    told: (pass: ToldPass): string => toldSentence(pass, wording.value),
  }
}

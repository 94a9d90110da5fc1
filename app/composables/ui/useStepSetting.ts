import type { PlayerSettings } from '#shared/utils/settings'
import { useSettingsStore } from '~/stores/settings'
import { useAction } from './useAction'

/** Changes a setting in one of the first steps: `done` is called once it is saved, `problem` says why it was not. */
export function useStepSetting(done: () => void) {
  const settings = useSettingsStore()
  const { act, problem } = useAction()
  async function choose(change: Partial<PlayerSettings>) {
    await act(async () => {
      await settings.change(change)
      done()
    })
  }
  return { settings, problem, choose }
}

import type { PlayerSettings } from '#shared/utils/settings'
import { useSettingsStore } from '~/stores/settings'
import { messageOf } from '~/utils/ui/messageOf'

/** Changes a setting in one of the first steps: `done` is called once it is saved, `problem` says why it was not. */
export function useStepSetting(done: () => void) {
  const settings = useSettingsStore()
  const problem = ref('')
  async function choose(change: Partial<PlayerSettings>) {
    problem.value = ''
    try {
      await settings.change(change)
      done()
    } catch (error) {
      problem.value = messageOf(error)
    }
  }
  return { settings, problem, choose }
}

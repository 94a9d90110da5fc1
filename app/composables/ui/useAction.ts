import { messageOf } from '~/utils/ui/messageOf'
import { computed, ref } from 'vue'

/**
 * What a control does that takes time or may fail: whether it is under way, and what went wrong with the last one, in
 * words. `act` resolves to what the work gives, or to undefined where it failed.
 */
export function useAction() {
  const underWay = ref(0)
  const problem = ref('')

  async function act<Result>(
    work: () => Promise<Result> | Result,
    told: (error: unknown) => string = messageOf,
  ): Promise<Result | undefined> {
    problem.value = ''
    underWay.value++
    try {
      return await work()
    } catch (error) {
      problem.value = told(error)
      return undefined
    } finally {
      underWay.value--
    }
  }

  return { act, problem, isBusy: computed(() => underWay.value > 0) }
}

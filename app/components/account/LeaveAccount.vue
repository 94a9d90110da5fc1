<script setup lang="ts">
import { useAction } from '~/composables/ui/useAction'
import { sentence } from '~/utils/ui/sentence'
import { OFFLINE_CACHE } from '#shared/utils/kept-answers'
/** Deletes the account: the name typed, the password where there is one. */
const props = defineProps<{ name: string; hasPassword: boolean }>()
const isAsked = ref(false)
const state = reactive({ name: '', current: '' })
const { act, problem } = useAction()

async function leave() {
  await act(async () => {
    await $fetch('/api/account', {
      method: 'DELETE',
      body: { name: state.name, ...(props.hasPassword ? { current: state.current } : {}) },
    })
    await globalThis.caches?.delete(OFFLINE_CACHE)
    await useUserSession().fetch()
    await navigateTo('/sign-in')
  })
}
</script>

<template>
  <section aria-labelledby="leave">
    <h2 id="leave">Delete the account</h2>
    <p>
      All of it goes: songs, passes, takes, words, settings. Take your archive first; nobody can bring it back
      otherwise.
    </p>
    <UButton v-if="!isAsked" color="error" variant="outline" @click="isAsked = true"> Delete my account </UButton>
    <form v-else class="row" @submit.prevent="leave">
      <UFormField :label="`Type your name: ${name}`">
        <UInput id="leaving-name" v-model="state.name" autocomplete="off" required />
      </UFormField>
      <UFormField v-if="hasPassword" label="Password">
        <UInput
          id="leaving-password"
          v-model="state.current"
          type="password"
          autocomplete="current-password"
          required
        />
      </UFormField>
      <UButton type="submit" color="error"> Delete everything </UButton>
      <UButton variant="ghost" color="neutral" @click="isAsked = false"> Cancel </UButton>
    </form>
    <p v-if="problem" role="alert" class="problem">
      {{ sentence(problem) }}
    </p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  align-items: end;
}
</style>

<script setup lang="ts">
import { useAction } from '~/composables/ui/useAction'
import { sentence } from '~/utils/ui/sentence'
import { credentialsSchema } from '#shared/utils/credentials'
import { renamingSchema, type Credentials } from '~~/shared/utils/credentials'

useHead({ title: 'Sign in · Half Step' })
const { fetch: refreshSession } = useUserSession()
const { data: door } = await useFetch('/api/door')
const state = reactive<Credentials>({ name: '', password: '' })
const { act, problem } = useAction()
const wantsNew = ref(false)
/** The first player of a program for their own use gives a name, and that is all. */
const isFirst = computed(() => door.value?.may === 'first')
const isNew = computed(() => isFirst.value || (wantsNew.value && door.value?.may !== 'nobody'))
const heading = computed(() => (isFirst.value ? 'Welcome' : isNew.value ? 'Create an account' : 'Sign in'))

async function submit() {
  await act(async () => {
    await $fetch(isNew.value ? '/api/accounts' : '/api/session', {
      method: 'POST',
      body: isFirst.value ? { name: state.name } : state,
    })
    await refreshSession()
    await navigateTo(isNew.value ? '/first-steps' : '/')
  })
}
</script>

<template>
  <div class="door">
    <h1>{{ heading }}</h1>
    <p v-if="isFirst" class="soft">
      What is your name? It stands on your Logbook and nowhere else. Everything stays on this computer.
    </p>
    <UForm
      :schema="isFirst ? renamingSchema.unknown() : credentialsSchema"
      :state="state"
      class="form"
      @submit="submit"
    >
      <UFormField label="Name" name="name">
        <UInput
          id="name"
          v-model="state.name"
          :autocomplete="isFirst ? 'given-name' : 'username'"
          :autofocus="isFirst"
          class="w-full"
          size="lg"
        />
      </UFormField>
      <UFormField v-if="!isFirst" label="Password" name="password" :help="isNew ? 'At least 10 characters' : undefined">
        <UInput
          id="password"
          v-model="state.password"
          type="password"
          :autocomplete="isNew ? 'new-password' : 'current-password'"
          class="w-full"
          size="lg"
        />
      </UFormField>
      <p v-if="problem" role="alert" class="problem">
        {{ problem }}
      </p>
      <UButton type="submit" size="lg" block>
        {{ isFirst ? 'Begin' : isNew ? 'Create account' : 'Sign in' }}
      </UButton>
      <p v-if="door?.may === 'nobody'" class="soft">
        {{ sentence(door.why) }}
      </p>
      <UButton v-else-if="!isFirst" variant="link" @click="wantsNew = !wantsNew">
        {{ isNew ? 'I already have an account' : 'Create an account' }}
      </UButton>
    </UForm>
  </div>
</template>

<style scoped>
.door {
  max-width: 26rem;
  margin: 12vh auto;
  padding: calc(3 * var(--step));
}
h1 {
  font-size: 2rem;
  margin-bottom: calc(3 * var(--step));
}
.soft {
  margin-bottom: calc(2 * var(--step));
}
.form {
  display: grid;
  gap: calc(2 * var(--step));
}
</style>

<script setup lang="ts">
import type { Credentials } from '~~/shared/utils/credentials'

useHead({ title: 'Sign in · Half Step' })
const { fetch: refreshSession } = useUserSession()
const state = reactive<Credentials>({ name: '', password: '' })
const problem = ref('')
const isNew = ref(false)

async function submit() {
  problem.value = ''
  try {
    await $fetch(isNew.value ? '/api/accounts' : '/api/session', { method: 'POST', body: state })
    await refreshSession()
    await navigateTo('/songs')
  }
  catch (error) {
    problem.value = messageOf(error)
  }
}
</script>

<template>
  <div class="door">
    <h1>{{ isNew ? 'Create an account' : 'Sign in' }}</h1>
    <UForm
      :schema="credentialsSchema"
      :state="state"
      class="form"
      @submit="submit"
    >
      <UFormField
        label="Name"
        name="name"
      >
        <UInput
          v-model="state.name"
          autocomplete="username"
          class="w-full"
          size="lg"
        />
      </UFormField>
      <UFormField
        label="Password"
        name="password"
        :help="isNew ? 'At least 10 characters' : undefined"
      >
        <UInput
          v-model="state.password"
          type="password"
          :autocomplete="isNew ? 'new-password' : 'current-password'"
          class="w-full"
          size="lg"
        />
      </UFormField>
      <p
        v-if="problem"
        role="alert"
        class="problem"
      >
        {{ problem }}
      </p>
      <UButton
        type="submit"
        size="lg"
        block
      >
        {{ isNew ? 'Create account' : 'Sign in' }}
      </UButton>
      <UButton
        variant="link"
        @click="isNew = !isNew"
      >
        {{ isNew ? 'I already have an account' : 'Create an account' }}
      </UButton>
    </UForm>
  </div>
</template>

<style scoped>
.door { max-width: 26rem; margin: 12vh auto; padding: calc(3 * var(--step)); }
h1 { font-size: 2rem; margin-bottom: calc(3 * var(--step)); }
.form { display: grid; gap: calc(2 * var(--step)); }
.problem { color: var(--heard-wrong); }
</style>

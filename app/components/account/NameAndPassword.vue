<script setup lang="ts">
import { askServer } from '~/utils/ui/askServer'
import { useAction } from '~/composables/ui/useAction'
import { sentence } from '~/utils/ui/sentence'
import { passwordChangeSchema, renamingSchema } from '~~/shared/utils/credentials'

/** What the player is called, and the password. Changing either signs out every other device. */
const props = defineProps<{ name: string; hasPassword: boolean }>()
const emit = defineEmits<{ changed: [] }>()
const renaming = reactive({ name: props.name })
const change = reactive({ current: '', password: '' })
const said = ref('')
const { act, problem } = useAction()

async function save(what: () => Promise<unknown>, then: string) {
  said.value = ''
  await act(async () => {
    await what()
    await useUserSession().fetch()
    said.value = then
    emit('changed')
  })
}

const rename = async () =>
  await save(
    () => askServer('/api/account', { method: 'PATCH', body: { name: renaming.name } }),
    'Saved. Every other device is signed out.',
  )
async function changePassword() {
  const { current, password } = change
  await save(
    () =>
      askServer('/api/account/password', {
        method: 'PUT',
        body: { password, ...(props.hasPassword ? { current } : {}) },
      }),
    'Saved. Every other device is signed out.',
  )
  if (problem.value === '') Object.assign(change, { current: '', password: '' })
}
</script>

<template>
  <section aria-labelledby="name-and-password">
    <h2 id="name-and-password">Name and password</h2>
    <UForm :schema="renamingSchema" :state="renaming" class="row" @submit="rename">
      <UFormField label="Name" name="name">
        <UInput id="new-name" v-model="renaming.name" autocomplete="username" />
      </UFormField>
      <UButton type="submit" variant="outline"> Change name </UButton>
    </UForm>
    <p v-if="!hasPassword" class="soft">
      You have no password: whoever sits at this computer is you. Give yourself one to practise on a tablet in the
      house, or when somebody else wants to play here too.
    </p>
    <UForm :schema="passwordChangeSchema" :state="change" class="row" @submit="changePassword">
      <UFormField v-if="hasPassword" label="Password until now" name="current">
        <UInput id="current" v-model="change.current" type="password" autocomplete="current-password" />
      </UFormField>
      <UFormField :label="hasPassword ? 'New password' : 'Password'" name="password" help="At least 10 characters">
        <UInput id="new-password" v-model="change.password" type="password" autocomplete="new-password" />
      </UFormField>
      <UButton type="submit" variant="outline">
        {{ hasPassword ? 'Change password' : 'Set password' }}
      </UButton>
    </UForm>
    <p role="status">
      {{ said }}
    </p>
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
  align-items: start;
}
.row > button {
  margin-top: 1.55rem;
}
</style>

<script setup lang="ts">
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
useHead({ title: 'Account · Half Step' })
const { data: account, error, refresh } = await useFetch('/api/account')
const { data: door } = await useFetch('/api/door')
throwIfUnavailable(error)
const { clear } = useUserSession()

/** The next player makes an account of their own. */
async function makeRoom() {
  await clear()
  await navigateTo('/sign-in')
}
</script>

<template>
  <div v-if="account" class="account">
    <h1>Account</h1>
    <p v-if="account.isDemo">
      You look at the demo's practice: its player cannot be renamed or deleted. Your own practice begins with
      <code>npm start</code>, or with “Sign in” above.
    </p>
    <NameAndPassword v-else :name="account.name" :has-password="account.hasPassword" @changed="refresh()" />
    <section v-if="door?.isOwn && account.hasPassword" aria-labelledby="others">
      <h2 id="others">Somebody else plays here too</h2>
      <p>Each player has songs, stairs and a Logbook of their own. From the second account on everybody signs in.</p>
      <UButton variant="outline" @click="makeRoom"> Sign out and make another account </UButton>
    </section>
    <PracticeArchive :passes="account.kept.passes" @restored="refresh()" />
    <WhatIsKept :kept="account.kept" />
    <p>
      <NuxtLink to="/licences">What is shipped of others: makers and licences</NuxtLink>
    </p>
    <LeaveAccount v-if="!account.isDemo" :name="account.name" :has-password="account.hasPassword" />
  </div>
</template>

<style scoped>
.account {
  max-width: 60rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(3 * var(--step));
}
h1 {
  font-size: 2.25rem;
}
.account :deep(section) {
  background: var(--sheet);
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  padding: calc(2.5 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(1.5 * var(--step));
  justify-items: start;
}
.account :deep(h2) {
  font-weight: 700;
  font-size: 1.25rem;
}
.account :deep(p) {
  max-width: 72ch;
}
.account :deep([role='status']:empty) {
  display: none;
}
.account :deep(.ledger),
.account :deep(.progress) {
  width: 100%;
}
</style>

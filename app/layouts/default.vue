<script setup lang="ts">
const { user, loggedIn } = useUserSession()
const links = [
  { to: '/', label: 'Today' },
  { to: '/songs', label: 'Songs' },
  { to: '/drills', label: 'Drills' },
  { to: '/logbook', label: 'Logbook' },
  { to: '/settings', label: 'Settings' },
]
</script>

<template>
  <div class="page">
    <a class="skip" href="#main">Skip to the page</a>
    <header class="bar">
      <NuxtLink to="/" class="brand" aria-label="Half Step, to today"> <StairMark /> Half Step </NuxtLink>
      <nav v-if="loggedIn" aria-label="Main">
        <NuxtLink v-for="link in links" :key="link.to" :to="link.to">
          {{ link.label }}
        </NuxtLink>
      </nav>
      <div class="end">
        <OutboxNote />
        <PlayerMenu v-if="user" :name="user.name" :is-demo="user.isDemo" :is-open="user.isOpen" />
        <UColorModeButton />
      </div>
    </header>
    <ClientOnly>
      <ServerNote />
    </ClientOnly>
    <main id="main" tabindex="-1">
      <slot />
    </main>
    <ClientOnly>
      <HeardNote />
    </ClientOnly>
  </div>
</template>

<style scoped>
.page {
  min-height: 100vh;
  display: flex;
  flex-direction: column;
}
.bar {
  display: flex;
  align-items: center;
  gap: calc(4 * var(--step));
  flex-wrap: wrap;
  padding: var(--step) calc(3 * var(--step));
  border-bottom: 1px solid var(--rule);
  background: var(--sheet);
}
.brand {
  display: flex;
  align-items: center;
  gap: var(--step);
  font-weight: 700;
  font-size: 1.125rem;
}
nav {
  display: flex;
  gap: calc(2 * var(--step));
}
nav a {
  padding: 0.4rem 0.25rem;
  border-bottom: 3px solid transparent;
}
nav a.router-link-active:not([href='/']),
nav a.router-link-exact-active {
  border-color: var(--together);
  font-weight: 600;
}
.end {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: calc(1.5 * var(--step));
}
main {
  flex: 1;
  width: 100%;
  outline: none;
}
.skip {
  position: absolute;
  left: -999rem;
  background: var(--sheet);
  padding: var(--step);
  z-index: 10;
}
.skip:focus {
  left: var(--step);
  top: var(--step);
}
</style>

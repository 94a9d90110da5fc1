<template>
  <main class="stand">
    <slot />
  </main>
</template>

<style scoped>
.stand {
  background: var(--ground);
}
</style>

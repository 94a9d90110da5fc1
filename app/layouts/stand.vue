<template>
  <main class="stand">
    <slot />
  </main>
</template>

<style scoped>
.stand { min-height: 100vh; background: var(--ground); }
</style>

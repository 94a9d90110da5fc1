<template>
  <svg viewBox="0 0 22 18" width="26" height="21" aria-hidden="true">
    <path d="M0 18v-6h7V6h7V0h8v18z" fill="var(--together)" />
  </svg>
</template>

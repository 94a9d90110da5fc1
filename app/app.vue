<template>
  <!-- Without toasts: their region would take F8, which is the Stand's. -->
  <UApp :toaster="null">
    <NuxtRouteAnnouncer />
    <NuxtLoadingIndicator color="var(--together)" />
    <NuxtLayout>
      <NuxtPage />
    </NuxtLayout>
  </UApp>
</template>

<script setup lang="ts">
import { keyCaps, STAND_KEYS } from '#core/words/stand-keys'

/** The keys of the Stand, and what its words mean, over it. */
const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <UModal
    v-model:open="open"
    title="Keys and words of the Stand"
    description="They work whatever was clicked. Piano keys and pedals can be given to the most important ones in Settings."
  >
    <template #body>
      <div class="keys">
        <section v-for="group in STAND_KEYS" :key="group.name">
          <h3>{{ group.name }}</h3>
          <dl>
            <div v-for="[names, does] in group.keys" :key="does">
              <dt>
                <kbd v-for="key in keyCaps(names)" :key="key">{{ key }}</kbd>
              </dt>
              <dd>{{ does }}</dd>
            </div>
          </dl>
        </section>
        <section>
          <h3>Words</h3>
          <WordsHelp />
        </section>
      </div>
    </template>
  </UModal>
</template>

<style scoped>
.keys {
  display: grid;
  gap: calc(2 * var(--step));
}
h3 {
  font-weight: 700;
}
dl:not(.words) div {
  display: grid;
  grid-template-columns: 11rem 1fr;
  gap: var(--step);
  padding: 0.15rem 0;
}
dt {
  display: flex;
  gap: 0.25rem;
}
kbd {
  font: inherit;
  font-size: 0.9em;
  border: 1px solid currentColor;
  border-radius: 0.25rem;
  padding: 0 0.4em;
}
</style>

<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'

const hands = defineModel<Hands>({ required: true })
const CHOICES: { value: Hands, label: string }[] = [{ value: 'left', label: 'Left' }, { value: 'both', label: 'Together' }, { value: 'right', label: 'Right' }]
</script>

<template>
  <fieldset>
    <legend class="sr-only">
      Hands
    </legend>
    <label
      v-for="choice in CHOICES"
      :key="choice.value"
      :class="[choice.value, { on: hands === choice.value }]"
    >
      <input
        v-model="hands"
        type="radio"
        name="hands"
        :value="choice.value"
      >
      {{ choice.label }}
    </label>
  </fieldset>
</template>

<style scoped>
fieldset { display: flex; align-items: end; gap: 2px; border: none; }
label { position: relative; padding: 0.55rem 1rem; background: var(--tread); border-top: 3px solid var(--hand); cursor: pointer; min-height: 2.75rem; }
.both { padding-bottom: 1rem; }
.left { --hand: var(--left-hand); }
.right { --hand: var(--right-hand); }
.both { --hand: var(--together); }
.on { background: var(--hand); color: var(--sheet); font-weight: 700; }
input { position: absolute; opacity: 0; inset: 0; cursor: pointer; }
label:focus-within { outline: 3px solid var(--together); outline-offset: 2px; }
</style>

<script setup lang="ts">
import type { Hands } from '#core/music/arrangement'

const hands = defineModel<Hands>({ required: true })
const CHOICES: { value: Hands; label: string; short: string }[] = [
  { value: 'left', label: 'Left', short: 'L' },
  { value: 'both', label: 'Together', short: 'L+R' },
  { value: 'right', label: 'Right', short: 'R' },
]
</script>

<template>
  <fieldset title="Hands (← →)">
    <legend class="sr-only">Hands</legend>
    <label v-for="choice in CHOICES" :key="choice.value" :class="[choice.value, { on: hands === choice.value }]">
      <input v-model="hands" type="radio" name="hands" :value="choice.value" :aria-label="choice.label" />
      <span class="long">{{ choice.label }}</span><span class="short" aria-hidden="true">{{ choice.short }}</span>
    </label>
  </fieldset>
</template>

<style scoped>
fieldset {
  display: flex;
  align-items: end;
  gap: 2px;
  border: none;
}
label {
  position: relative;
  padding: 0.45rem 0.9rem;
  background: var(--tread);
  border-top: 3px solid var(--hand);
  cursor: pointer;
  min-height: 2.75rem;
  min-width: 2.75rem;
  display: grid;
  place-items: center;
}
.both {
  padding-bottom: 0.75rem;
}
.left {
  --hand: var(--left-hand);
}
.right {
  --hand: var(--right-hand);
}
.both {
  --hand: var(--together);
}
.on {
  background: var(--hand);
  color: var(--sheet);
  font-weight: 700;
}
input {
  position: absolute;
  opacity: 0;
  inset: 0;
  cursor: pointer;
}
label:focus-within {
  outline: 3px solid var(--together);
  outline-offset: 2px;
}
.short {
  display: none;
}
@media (max-width: 60rem) {
  .long {
    display: none;
  }
  .short {
    display: inline;
  }
  label {
    padding: 0.45rem 0.6rem;
  }
}
</style>

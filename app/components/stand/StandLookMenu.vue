<script setup lang="ts">
/** How the Stand looks: how large the notes are, and the staves that neither hand plays. */
const props = defineProps<{ look: StandLook, hasOtherStaves: boolean, showsKeys: boolean, showsSong: boolean, mayTurn: boolean }>()
const emit = defineEmits<{ change: [look: Partial<StandLook>], keys: [], fullscreen: [], piano: [], song: [], tap: [] }>()
const SIZES: [StandLook['size'], string][] = [['small', 'Small'], ['medium', 'Medium'], ['large', 'Large']]
const STAVES: [StandLook['otherStaves'], string][] = [['full', 'As the others'], ['small', 'Small'], ['words', 'Only the words']]
</script>

<template>
  <UPopover :content="{ align: 'end' }">
    <UButton
      variant="ghost"
      color="neutral"
      icon="i-lucide-settings-2"
      aria-label="How the Stand looks"
      title="How the Stand looks"
    />
    <template #content>
      <div class="look">
        <fieldset>
          <legend>Notes</legend>
          <UButton
            v-for="[size, label] in SIZES"
            :key="size"
            :variant="props.look.size === size ? 'soft' : 'ghost'"
            color="neutral"
            :aria-pressed="props.look.size === size"
            @click="emit('change', { size })"
          >
            {{ label }}
          </UButton>
        </fieldset>
        <fieldset v-if="hasOtherStaves">
          <legend>Staves nobody here plays</legend>
          <UButton
            v-for="[staves, label] in STAVES"
            :key="staves"
            :variant="props.look.otherStaves === staves ? 'soft' : 'ghost'"
            color="neutral"
            :aria-pressed="props.look.otherStaves === staves"
            @click="emit('change', { otherStaves: staves })"
          >
            {{ label }}
          </UButton>
        </fieldset>
        <UButton
          :variant="showsKeys ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-keyboard-music"
          :aria-pressed="showsKeys"
          @click="emit('piano')"
        >
          Keys on the screen
        </UButton>
        <UButton
          :variant="showsSong ? 'soft' : 'ghost'"
          color="neutral"
          icon="i-lucide-book-open"
          :aria-pressed="showsSong"
          :disabled="!mayTurn"
          @click="emit('song')"
        >
          The whole song on the page
        </UButton>
        <UButton
          variant="ghost"
          color="neutral"
          icon="i-lucide-hand"
          @click="emit('tap')"
        >
          Tap the tempo
        </UButton>
        <UButton
          variant="ghost"
          color="neutral"
          icon="i-lucide-maximize"
          @click="emit('fullscreen')"
        >
          Full screen
        </UButton>
        <UButton
          variant="ghost"
          color="neutral"
          icon="i-lucide-keyboard"
          @click="emit('keys')"
        >
          What the keys do
        </UButton>
        <UColorModeSwitch
          label="Dark"
          class="dark-mode"
        />
      </div>
    </template>
  </UPopover>
</template>

<style scoped>
.look { padding: calc(2 * var(--step)); display: grid; gap: var(--step); justify-items: start; }
fieldset { border: none; display: flex; flex-wrap: wrap; gap: 0.25rem; }
legend { font-weight: 700; }
.look :deep(button:not([role="switch"])) { min-height: 2.75rem; }
.dark-mode { padding: 0.5rem 0.6rem; }
</style>

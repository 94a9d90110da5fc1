<script setup lang="ts">
import type { useOwnRecording } from '~/composables/stand/useOwnRecording'
import type { Hands } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import type { PlayAlong, SoundSettings } from '#shared/utils/sound'

/** What plays along, how the click sounds, and how loud each of them is, behind one button. */
defineProps<{
  along: PlayAlong
  sound: SoundSettings
  hands: Hands
  meter: Meter
  /** Names of the other roles of the song. */
  roles: readonly string[]
  isOn: boolean
  recording: ReturnType<typeof useOwnRecording>
}>()
const emit = defineEmits<{ along: [change: Partial<PlayAlong>]; sound: [change: Partial<SoundSettings>] }>()
const open = defineModel<boolean>('open', { required: true })
</script>

<template>
  <UPopover v-model:open="open" :content="{ align: 'end' }">
    <Tip text="Sound and what plays along (Shift F2)"
      ><UButton
        :variant="isOn ? 'soft' : 'ghost'"
        color="neutral"
        icon="i-lucide-sliders-vertical"
        aria-label="Sound and what plays along"
    /></Tip>
    <template #content>
      <LazySoundChoices
        v-bind="{ along, sound, hands, meter, roles, recording }"
        @along="emit('along', $event)"
        @sound="emit('sound', $event)"
      />
    </template>
  </UPopover>
</template>

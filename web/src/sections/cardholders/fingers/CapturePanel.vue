<script setup lang="ts">
import Button from 'primevue/button'
import { useTemplateRef } from 'vue'

import type { House, Problem } from '@/api/client'
import SelectField from '@/kit/controls/SelectField.vue'
import { t, wordsFor } from '@/words'

import SilentReader from './SilentReader.vue'

/** Where something is taken: its latest picture, where from, what was said of it, and what can be done. */
defineProps<{
  picture: string
  pictureWords: string
  noPicture: string
  atWords: string
  places: { value: number; word: string }[]
  reader: House['readers'][number] | undefined
  refused: readonly Problem[]
  /** The files that are taken; none while they are not chosen from. */
  accept?: string
  isBusy: boolean
  isReady: boolean
}>()
const at = defineModel<number>({ required: true })
const emit = defineEmits<{ files: [files: File[]]; again: []; cancel: [] }>()
const chooser = useTemplateRef<HTMLInputElement>('chooser')

function chosen(event: Event) {
  const input = event.target as HTMLInputElement
  emit('files', [...(input.files ?? [])])
  input.value = ''
}
</script>

<template>
  <div class="capture">
    <div class="picture">
      <img v-if="picture" :src="picture" :alt="pictureWords" />
      <span v-else class="quiet">{{ noPicture }}</span>
    </div>
    <div class="side">
      <SelectField v-if="places.length > 1" v-model="at" class="at" :label="atWords" :options="places" />
      <SilentReader v-if="reader" :reader="reader" />
      <slot />
      <p v-for="problem in refused" :key="problem.code" class="denied" role="alert">
        {{ wordsFor(problem) }}
      </p>
      <div class="row acts">
        <template v-if="accept">
          <input
            ref="chooser"
            type="file"
            class="unseen"
            tabindex="-1"
            multiple
            :accept="accept"
            :aria-label="t('fingers.chooseFile')"
            @change="chosen"
          />
          <Button
            size="small"
            :label="t('fingers.chooseFile')"
            :loading="isBusy"
            :disabled="!isReady"
            @click="chooser?.click()"
          />
        </template>
        <slot name="acts" />
        <Button
          v-if="refused.length"
          size="small"
          severity="secondary"
          :label="t('common.again')"
          @click="emit('again')"
        />
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('common.cancel')"
          @click="emit('cancel')"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.capture {
  display: grid;
  grid-template-columns: 148px 1fr;
  gap: 14px;
  padding: 8px 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
.picture {
  display: grid;
  place-items: center;
  width: 148px;
  height: 185px;
  padding: 4px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 6px;
  background: var(--p-cadrin-sheet);
  text-align: center;
}
.picture img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 6px;
  min-width: 0;
}
.acts {
  flex-wrap: wrap;
  margin-top: auto;
}
.at {
  max-width: 220px;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { onUnmounted, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { whenWords } from '@/kit/time/clock'
import { useSave } from '@/kit/state/save'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { Template } from './fingers'

/** Give one finger out as an open record, with a reason that the journal keeps. */
const props = defineProps<{ id: number; template: Template }>()
const emit = defineEmits<{ close: [] }>()

const reason = ref('')
const picture = ref('')
const { act, isBusy, at, elsewhere } = useSave()
onUnmounted(() => URL.revokeObjectURL(picture.value))
const asked = () => ({
  params: { path: { id: props.id, template: props.template.id } },
  body: { reason: reason.value },
  parseAs: 'blob' as const,
})

async function give() {
  const record = await act(() =>
    unwrap(client.POST('/api/cardholders/{id}/fingers/{template}/export/', asked())),
  )
  if (!record) return
  const link = document.createElement('a')
  link.href = URL.createObjectURL(record)
  link.download = `${props.template.finger ?? 'finger'}.fmr`
  link.click()
  URL.revokeObjectURL(link.href)
  emit('close')
}
async function see() {
  const found = await act(() =>
    unwrap(client.POST('/api/cardholders/{id}/fingers/{template}/picture/', asked())),
  )
  if (found) picture.value = URL.createObjectURL(found)
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('fingers.export')"
    :style="{ width: '440px' }"
    @update:visible="emit('close')"
  >
    <form id="finger-export" class="form" @submit.prevent="give">
      <p class="quiet">{{ t('fingers.exportHint') }}</p>
      <TextField v-model="reason" :label="t('fingers.exportReason')" :problems="at('reason')" />
      <p class="denied">{{ elsewhere }}</p>
      <img
        v-if="picture"
        :src="picture"
        :alt="t('fingers.keptPicture', { when: whenWords(template.picture_until ?? '') })"
      />
    </form>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('close')"
      />
      <Button
        v-if="template.picture_until && !picture"
        size="small"
        severity="secondary"
        :label="t('fingers.seePicture')"
        :loading="isBusy"
        @click="see"
      />
      <Button
        size="small"
        type="submit"
        form="finger-export"
        :label="t('fingers.export')"
        :loading="isBusy"
      />
    </template>
  </Dialog>
</template>

<style scoped>
img {
  align-self: center;
  max-height: 360px;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'

import { t } from '@/words'

/** What ends the work in an editor: save, discard, what stands against it, and removing the thing. */
const props = defineProps<{
  isDirty: boolean
  isBusy: boolean
  /** Something typed cannot be read yet. */
  isUnreadable?: boolean
  elsewhere: string
  /** Only for what is there already. */
  removeLabel?: string
  /** Asked before it is removed, where more goes with it than its name. */
  removeQuestion?: string
}>()
const emit = defineEmits<{ discard: []; remove: [] }>()
const confirm = useConfirm()

function remove() {
  if (!props.removeQuestion) return emit('remove')
  confirm.require({
    header: props.removeLabel,
    message: props.removeQuestion,
    acceptLabel: t('common.remove'),
    rejectLabel: t('common.cancel'),
    acceptProps: { severity: 'danger' },
    accept: () => emit('remove'),
  })
}
</script>

<template>
  <div class="row foot">
    <Button
      type="submit"
      size="small"
      :label="t('common.save')"
      :disabled="!isDirty || isUnreadable"
      :loading="isBusy"
    />
    <Button
      size="small"
      severity="secondary"
      variant="text"
      :label="t('common.discard')"
      :disabled="!isDirty"
      @click="emit('discard')"
    />
    <span class="denied" role="status">{{ elsewhere }}</span>
    <Button
      v-if="removeLabel"
      size="small"
      severity="danger"
      variant="text"
      class="push"
      :label="removeLabel"
      :disabled="isBusy"
      @click="remove"
    />
  </div>
</template>

<style scoped>
.foot {
  margin-top: 14px;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'
import { computed, useTemplateRef } from 'vue'

import type { Editor } from '@/kit/state/editor'
import { t } from '@/words'

import { useFirstField } from './first-field'
import TakenUp from './TakenUp.vue'

/** What ends the work in an editor: save, discard, what stands against it, and removing the thing. */
const props = defineProps<{
  editor: Editor
  /** Something typed cannot be read yet. */
  isUnreadable?: boolean
  /** Only for what is there already. */
  removeLabel?: string
  /** Asked before it is removed, where more goes with it than its name. */
  removeQuestion?: string
}>()
const emit = defineEmits<{ discard: []; remove: [] }>()
const confirm = useConfirm()

const { isDirty, isBusy, isTakenUp, isNew, elsewhere } = props.editor
/** Something new is typed at once. */
const foot = useTemplateRef('foot')
useFirstField(
  computed(() => foot.value?.closest('form') ?? null),
  () => isNew,
)

const mayDiscard = computed(() => isDirty.value || isNew)
function discard() {
  props.editor.discard()
  emit('discard')
}
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
  <div ref="foot" class="foot">
    <TakenUp v-if="isTakenUp && isDirty" />
    <div class="row">
      <Button
        type="submit"
        size="small"
        :label="t('common.save')"
        :disabled="(!isDirty && !isNew) || isUnreadable"
        :loading="isBusy"
      />
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.discard')"
        :disabled="!mayDiscard"
        @click="discard"
      />
      <span class="denied" role="alert">{{ elsewhere }}</span>
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
  </div>
</template>

<style scoped>
.foot {
  margin-top: 14px;
}
</style>

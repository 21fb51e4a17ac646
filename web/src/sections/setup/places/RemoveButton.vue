<script setup lang="ts">
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'

import { t } from '@/words'

/** Removes something once it was said what goes with it. */
const props = defineProps<{ label: string; question: string; remove: () => Promise<unknown> }>()
const emit = defineEmits<{ removed: [] }>()
const confirm = useConfirm()

async function removeNow() {
  if (await props.remove()) emit('removed')
}
function ask() {
  confirm.require({
    header: props.label,
    message: props.question,
    acceptLabel: t('common.remove'),
    rejectLabel: t('common.cancel'),
    acceptProps: { severity: 'danger' },
    accept: () => void removeNow(),
  })
}
</script>

<template>
  <div class="remove">
    <Button size="small" severity="danger" variant="outlined" :label="label" @click="ask" />
  </div>
</template>

<style scoped>
.remove {
  margin-top: 14px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>

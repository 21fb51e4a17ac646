<script setup lang="ts">
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import SelectButton from 'primevue/selectbutton'
import { ref } from 'vue'

import { client } from '@/api/client'
import type { components } from '@/api/schema'
import { keepFile } from '@/kit/controls/files'
import { t } from '@/words'

import type { Selection } from './many/selection'

type Kind = components['schemas']['ExportShapeRequest']['kind']

const props = defineProps<{
  selection: Selection
  count: number
  countWords: string
  columns: string[]
  sort: string
}>()
const emit = defineEmits<{ done: [] }>()

const KINDS: Kind[] = ['csv', 'xlsx', 'json', 'vcard']
const kinds = KINDS.map((value) => ({ value, word: t(`batches.kinds.${value}`) }))
const kind = ref<Kind>('csv')
const isBusy = ref(false)
const hasFailed = ref(false)

async function save() {
  isBusy.value = true
  hasFailed.value = false
  const { data, response } = await client.POST('/api/export/', {
    body: {
      ...props.selection,
      kind: kind.value,
      columns: ['last_name', 'first_name', ...props.columns],
      sort: props.sort,
    },
    parseAs: 'blob',
  })
  isBusy.value = false
  hasFailed.value = !response.ok
  if (!response.ok) return
  keepFile(data as unknown as Blob, response)
  emit('done')
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('batches.exportTitle', { count: countWords }, count)"
    :style="{ width: '460px' }"
    @update:visible="emit('done')"
  >
    <SelectButton
      v-model="kind"
      :options="kinds"
      option-label="word"
      option-value="value"
      size="small"
      :allow-empty="false"
      :aria-label="t('batches.exportAs')"
    />
    <p class="quiet hint">{{ t(`batches.kindHints.${kind}`) }}</p>
    <p v-if="hasFailed" class="denied" role="alert">{{ t('common.failed') }}</p>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('done')"
      />
      <Button size="small" :label="t('batches.export')" :loading="isBusy" @click="save" />
    </template>
  </Dialog>
</template>

<style scoped>
.hint {
  margin-top: 10px;
}
</style>

<script setup lang="ts">
import { Download } from '@lucide/vue'
import Button from 'primevue/button'
import Menu from 'primevue/menu'
import { useToast } from 'primevue/usetoast'
import { ref, useTemplateRef } from 'vue'

import { client } from '@/api/client'
import { t } from '@/words'

import { keepFile } from './files'
import { useSession } from '@/kit/state/session'

/** Takes a table out as it stands on the screen: for a spreadsheet, or on paper. */
const props = defineProps<{
  name: string
  headings: string[]
  /** All of its rows, also those that are not on the screen yet. */
  rows: () => string[][] | Promise<string[][]>
}>()
const mayExport = useSession().may('export')
const toast = useToast()
const menu = useTemplateRef('menu')
const isBusy = ref(false)

async function save(kind: 'csv' | 'xlsx') {
  isBusy.value = true
  try {
    const body = { kind, name: props.name, headings: props.headings, rows: await props.rows() }
    const { data, response } = await client.POST('/api/export/table/', { body, parseAs: 'blob' })
    if (!response.ok) throw new Error(response.statusText)
    keepFile(data as unknown as Blob, response)
  } catch {
    toast.add({ severity: 'error', summary: t('common.failed'), life: 8000 })
  } finally {
    isBusy.value = false
  }
}
const choices = [
  ...(mayExport
    ? (['csv', 'xlsx'] as const).map((kind) => ({
        label: t(`batches.kinds.${kind}`),
        command: () => void save(kind),
      }))
    : []),
  { label: t('common.print'), command: () => window.print() },
]
</script>

<template>
  <span>
    <Button
      size="small"
      severity="secondary"
      variant="text"
      aria-haspopup="menu"
      :loading="isBusy"
      :title="t('common.takeOut')"
      @click="menu?.toggle($event)"
    >
      <Download :size="15" aria-hidden="true" /><span class="unseen">{{ t('common.takeOut') }}</span>
    </Button>
    <Menu ref="menu" :model="choices" popup />
  </span>
</template>

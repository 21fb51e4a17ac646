<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { reactive, watch } from 'vue'

import { type CardDraft, client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'
import { newCard } from '@/kit/said/card'
import SelectField from '@/kit/controls/SelectField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

/** Cards in sequence from a box: the first of them is said. */
const emit = defineEmits<{ fill: [first: CardDraft] }>()

const { data: choices } = useQuery(house)
const box = reactive({ format: 0, facility_code: '', card_number: '' })
/** The lowest card in stock is proposed; without any, the first format. */
const { data: stock } = useQuery({
  queryKey: keyOf('stock', 'lowest'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/stock/', { params: { query: { text: '' } }, signal })),
  gcTime: 0,
})
watch(
  [choices, stock],
  () => {
    const free = stock.value?.[0]
    if (!free) box.format ||= choices.value?.formats[0]?.id ?? 0
    else if (!box.card_number)
      Object.assign(box, {
        format: free.format_id,
        facility_code: String(free.facility_code),
        card_number: String(free.card_number),
      })
  },
  { immediate: true },
)
function fill() {
  const card_number = Number(box.card_number)
  if (!box.card_number.trim() || Number.isNaN(card_number)) return
  emit('fill', newCard({ format: box.format, facility_code: Number(box.facility_code) || 0, card_number }))
}
</script>

<template>
  <form class="box" @submit.prevent="fill">
    <p>{{ t('row.fromBox') }}</p>
    <SelectField
      v-model="box.format"
      class="format"
      :label="t('file.format')"
      :options="choices?.formats ?? []"
      option-label="name"
      option-value="id"
    />
    <TextField v-model="box.facility_code" is-mono class="short" :label="t('file.facility_code')" />
    <TextField v-model="box.card_number" is-mono class="short" :label="t('file.card_number')" />
    <Button class="fill" type="submit" size="small" severity="secondary" :label="t('row.fill')" />
  </form>
</template>

<style scoped>
.box {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 8px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.box p {
  width: 100%;
}
.format {
  width: 110px;
}
.short {
  width: 78px;
}
.fill {
  margin-top: 18px;
}
</style>

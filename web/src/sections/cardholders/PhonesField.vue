<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed } from 'vue'

import type { Problem } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import { t } from '@/words'

/** Telephone numbers, one field each; an empty last one is always there to type the next. */
const props = defineProps<{ problems: Problem[] }>()
const phones = defineModel<string[]>({ required: true })

const MOST = 5
const fields = computed(() =>
  (phones.value.length < MOST ? [...phones.value, ''] : phones.value).slice(0, MOST),
)
const shown = computed(() => (phones.value.length ? fields.value : ['']))
const at = (place: number) =>
  props.problems.filter((one) => one.field === `phones.${place}` || (place === 0 && one.field === 'phones'))

function set(place: number, value: string) {
  const now = [...phones.value]
  now[place] = value
  phones.value = now.filter((one, here) => one !== '' || here < now.length - 1)
}
</script>

<template>
  <Field
    v-for="(phone, place) in shown"
    :key="place"
    v-slot="{ id, describedBy, invalid }"
    :label="place === 0 ? t('file.phones') : t('file.phone', { place: place + 1 })"
    :problems="at(place)"
  >
    <InputText
      :id="id"
      :model-value="phone"
      size="small"
      type="tel"
      autocomplete="off"
      :invalid="invalid"
      :aria-describedby="describedBy"
      @update:model-value="set(place, $event ?? '')"
    />
  </Field>
</template>

<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import AutoComplete from 'primevue/autocomplete'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { t } from '@/words'

/** Somebody whose finger or face is shown to a reader, or a stranger. */
defineProps<{ label: string }>()
const id = defineModel<number | null>({ required: true })

const NOBODY = { id: null, name: t('bench.nobodysFinger') }
const chosen = ref<{ id: number | null; name: string } | string>(NOBODY)
const asked = ref('')
const { data: found } = useQuery({
  queryKey: keyOf('bench', 'find', asked),
  queryFn: ({ signal }) =>
    unwrap(client.GET('/api/cardholders/find/', { params: { query: { text: asked.value } }, signal })),
  enabled: computed(() => asked.value.length > 0),
  placeholderData: keepPreviousData,
})
const people = computed(() => [
  NOBODY,
  ...(asked.value ? (found.value ?? []) : []).map((one) => ({ id: one.id, name: one.display_name })),
])
function told() {
  if (typeof chosen.value !== 'string') id.value = chosen.value?.id ?? null
}
</script>

<template>
  <AutoComplete
    v-model="chosen"
    size="small"
    class="person"
    option-label="name"
    dropdown
    :suggestions="people"
    :min-length="0"
    :input-props="{ 'aria-label': label }"
    :aria-label="label"
    @complete="asked = $event.query"
    @update:model-value="told"
  />
</template>

<style scoped>
.person {
  width: 180px;
}
</style>

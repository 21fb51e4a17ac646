<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import type { Problem } from '@/api/client'
import { house } from '@/api/queries'
import Field from '@/kit/controls/Field.vue'
import MultiSelect from '@/kit/controls/multi-select'
import { t } from '@/words'

import { KINDS, type Scope } from './scope'

/** What an operator or a script is kept to. */
defineProps<{ at: (field: string) => Problem[] }>()
const scope = defineModel<Scope>({ required: true })
const { data: choices } = useQuery(house)
</script>

<template>
  <fieldset>
    <legend>{{ t('admin.keptTo') }}</legend>
    <Field
      v-for="kind in KINDS"
      :key="kind"
      v-slot="{ labelId, invalid }"
      :label="t(`admin.${kind}`)"
      :problems="at(`limited_to.${kind}`)"
    >
      <MultiSelect
        v-model="scope[kind]"
        :options="choices?.[kind] ?? []"
        option-label="name"
        option-value="id"
        size="small"
        filter
        display="chip"
        :invalid="invalid"
        :placeholder="t('admin.notKept')"
        :aria-labelledby="labelId"
      />
    </Field>
    <p class="quiet hint">{{ t('admin.keptToHint') }}</p>
  </fieldset>
</template>

<style scoped>
fieldset {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin: 0;
  padding: 8px 0 0;
  border: 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
legend {
  padding: 0 8px 0 0;
  font-size: 13px;
  font-weight: 600;
}
.hint {
  font-size: 12px;
}
</style>

<script setup lang="ts">
import InputText from 'primevue/inputtext'
import SelectButton from 'primevue/selectbutton'

import type { FileDraft, Problem } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import InstantField from '@/kit/time/InstantField.vue'
import { t } from '@/words'

const props = defineProps<{ problems: Problem[] }>()
const draft = defineModel<FileDraft>({ required: true })

const at = (field: string) => props.problems.filter((one) => one.field === field)
const standings = (['active', 'suspended', 'barred', 'departed'] as const).map((value) => ({
  value,
  word: t(`standings.${value}`),
}))

function changed(standing: FileDraft['standing']) {
  if (standing !== 'suspended') draft.value.suspended_until = null
  if (standing === 'active') draft.value.standing_reason = ''
}
</script>

<template>
  <section id="validity" class="part" aria-labelledby="validity-head">
    <h2 id="validity-head">{{ t('file.validity') }}</h2>
    <div class="fields">
      <InstantField
        v-model="draft.activation_at"
        :label="t('file.activation_at')"
        :empty="t('common.atOnce')"
        :problems="at('activation_at')"
      />
      <InstantField
        v-model="draft.expiry_at"
        :label="t('file.expiry_at')"
        is-end
        :empty="t('common.noEnd')"
        :problems="at('expiry_at')"
      />
      <Field v-slot="{ labelId }" :label="t('file.standing')" :problems="at('standing')">
        <SelectButton
          v-model="draft.standing"
          :options="standings"
          option-label="word"
          option-value="value"
          size="small"
          :allow-empty="false"
          :aria-labelledby="labelId"
          @update:model-value="changed"
        />
      </Field>
      <template v-if="draft.standing !== 'active'">
        <Field
          v-slot="{ id, invalid, describedBy }"
          :label="t('file.standing_reason')"
          :problems="at('standing_reason')"
          class="reason"
        >
          <InputText
            :id="id"
            v-model="draft.standing_reason"
            size="small"
            :invalid="invalid"
            :aria-describedby="describedBy"
          />
        </Field>
        <InstantField
          v-if="draft.standing === 'suspended'"
          v-model="draft.suspended_until"
          :label="t('file.suspended_until')"
          :empty="t('common.noEnd')"
          :problems="at('suspended_until')"
        />
      </template>
    </div>
  </section>
</template>

<style scoped>
.part {
  margin-top: 14px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  margin-top: 6px;
}
.reason {
  flex: 1 1 180px;
}
</style>

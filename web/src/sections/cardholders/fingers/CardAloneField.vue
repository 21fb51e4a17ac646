<script setup lang="ts">
import Checkbox from 'primevue/checkbox'

import type { Problem } from '@/api/client'
import InstantField from '@/kit/time/InstantField.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { Biometrics } from './fingers'

/** Somebody who is let in by card alone where a finger is asked: why, and until when. */
const props = defineProps<{ problems: Problem[] }>()
const alone = defineModel<Biometrics['card_alone']>({ required: true })
const may = useSession().may('biometrics')
const at = (field: string) => props.problems.filter((one) => one.field === field)
</script>

<template>
  <fieldset class="alone" :disabled="!may">
    <label class="row" for="card-alone">
      <Checkbox
        :model-value="!!alone"
        binary
        input-id="card-alone"
        @update:model-value="alone = $event ? { reason: '', expiry_at: null } : null"
      />
      {{ t('cardAlone.label') }}
    </label>
    <div v-if="alone" class="fields">
      <TextField
        v-model="alone.reason"
        class="reason"
        :label="t('cardAlone.reason')"
        :problems="at('reason')"
      />
      <InstantField
        :model-value="alone.expiry_at ?? null"
        :label="t('cardAlone.until')"
        :empty="t('common.noEnd')"
        :problems="at('expiry_at')"
        @update:model-value="alone.expiry_at = $event"
      />
    </div>
  </fieldset>
</template>

<style scoped>
.alone {
  padding: 0;
  border: 0;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 6px 14px;
  margin-top: 4px;
}
.reason {
  flex: 1;
  min-width: 180px;
}
</style>

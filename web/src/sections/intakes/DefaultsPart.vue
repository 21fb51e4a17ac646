<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'

import type { House } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import InstantField from '@/kit/time/InstantField.vue'
import MultiSelect from '@/kit/controls/multi-select'
import NumberField from '@/kit/controls/NumberField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import { type Choices, type Intake, useTheIntake } from './intake'
import { departmentChoices } from './words'

/** What the file does not say, for all newcomers. */
const props = defineProps<{ intake: Intake; house: House }>()
const { decide, problems } = useTheIntake()
const session = useSession()
const proposedId = useId()

const now = computed(() => props.intake.choices.defaults)
const set = (change: Partial<Choices['defaults']>) =>
  void decide((choices) => Object.assign(choices.defaults, change))
const at = (field: string) => problems.value.filter((one) => one.field === `defaults.${field}`)
const open = <T extends { is_retired: boolean }>(all: T[]) => all.filter((one) => !one.is_retired)
const pins = computed(() => [
  { value: '' as const, word: t('intake.pinsNone') },
  { value: 'listed' as const, word: t('intake.pinsListed') },
  ...(props.house.can_mail ? [{ value: 'mailed' as const, word: t('intake.pinsMailed') }] : []),
])
</script>

<template>
  <section>
    <h2>{{ t('intake.notSaid') }}</h2>
    <p class="quiet">{{ t('intake.notSaidHint') }}</p>
    <div class="fields">
      <SelectField
        :model-value="now.department_id"
        :label="t('columns.department')"
        :options="departmentChoices(house)"
        option-value="id"
        filter
        show-clear
        :placeholder="t('common.none')"
        @update:model-value="set({ department_id: $event })"
      />
      <SelectField
        :model-value="now.kind_id"
        :label="t('columns.kind')"
        :options="open(house.kinds)"
        option-label="name"
        option-value="id"
        show-clear
        :placeholder="t('common.none')"
        @update:model-value="set({ kind_id: $event })"
      />
      <SelectField
        :model-value="now.company_id"
        :label="t('columns.company')"
        :options="open(house.companies)"
        option-label="name"
        option-value="id"
        show-clear
        :placeholder="t('common.none')"
        @update:model-value="set({ company_id: $event })"
      />
      <InstantField
        :model-value="now.activation || null"
        :label="t('columns.activation')"
        :empty="t('intake.fromNow')"
        @update:model-value="set({ activation: $event ?? '' })"
      />
      <InstantField
        :model-value="now.expiry || null"
        :label="t('columns.expiry')"
        is-end
        :empty="t('common.noEnd')"
        @update:model-value="set({ expiry: $event ?? '' })"
      />
      <template v-if="session.may('access')">
        <Field v-slot="{ labelId }" :label="t('columns.groups')" :problems="at('group_ids')">
          <MultiSelect
            :model-value="now.group_ids"
            :options="house.groups"
            option-label="name"
            option-value="id"
            size="small"
            filter
            :placeholder="t('common.none')"
            :aria-labelledby="labelId"
            @update:model-value="set({ group_ids: $event })"
          />
        </Field>
        <label class="tick" :for="proposedId">
          <Checkbox
            :input-id="proposedId"
            binary
            size="small"
            :model-value="now.with_proposed_groups"
            @update:model-value="set({ with_proposed_groups: $event })"
          />
          {{ t('intake.proposed') }}
        </label>
      </template>
      <template v-if="session.may('issue')">
        <SelectField
          :model-value="now.format_id"
          :label="t('intake.cardFormat')"
          :options="house.formats"
          option-label="name"
          option-value="id"
          show-clear
          :placeholder="t('intake.formatByItself')"
          :problems="at('format_id')"
          @update:model-value="set({ format_id: $event })"
        />
        <div class="pair">
          <NumberField
            :model-value="now.facility_code"
            :label="t('intake.facilityCode')"
            :min="0"
            @update:model-value="set({ facility_code: $event })"
          />
          <NumberField
            :model-value="now.first_card"
            :label="t('intake.firstCard')"
            :placeholder="t('common.none')"
            :problems="at('first_card')"
            :min="0"
            @update:model-value="set({ first_card: $event })"
          />
        </div>
        <SelectField
          :model-value="now.pins"
          :label="t('intake.pins')"
          :options="pins"
          :placeholder="t('intake.pinsNone')"
          @update:model-value="set({ pins: $event })"
        />
      </template>
    </div>
  </section>
</template>

<style scoped>
.fields {
  display: grid;
  gap: 6px;
  margin-top: 4px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.tick {
  display: flex;
  align-items: center;
  gap: 6px;
  font-size: 13px;
}
p {
  font-size: 13px;
}
</style>

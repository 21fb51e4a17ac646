<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'
import { I18nT } from 'vue-i18n'

import type { House } from '@/api/client'
import { labelOf } from '@/kit/said/labels'
import { t } from '@/words'

import { asFilter, type Filters } from './filters'

/** The filters that are asked for less often: the rest of the sentence. */
const props = defineProps<{ choices: House }>()
const filters = defineModel<Filters>({ required: true })

const named = (all: { id: number; name: string }[]) => all.map(({ id, name }) => ({ value: id, word: name }))
const companies = computed(() => named(props.choices.companies))
const kinds = computed(() => named(props.choices.kinds))
const ownFields = computed(() =>
  props.choices.custom_fields.map(({ id, labels }) => ({ value: id, word: labelOf(labels) })),
)
const own = computed(() => props.choices.custom_fields.find((one) => one.id === filters.value.custom_field))
const ownChoices = computed(() =>
  own.value?.type === 'yes_no'
    ? (['yes', 'no'] as const).map((value) => ({ value, word: t(`answers.${value}`) }))
    : (own.value?.choices.map((one) => ({ value: one.key, word: labelOf(one.labels) || one.key })) ?? []),
)
</script>

<template>
  <I18nT keypath="list.sentenceMore" tag="div" scope="global" class="sentence">
    <template #company>
      <Select
        v-model="filters.company"
        v-bind="asFilter"
        filter
        class="wide"
        :options="companies"
        :placeholder="t('list.anyCompany')"
        :aria-label="t('list.anyCompany')"
      />
    </template>
    <template #kind>
      <Select
        v-model="filters.kind"
        v-bind="asFilter"
        :options="kinds"
        :placeholder="t('list.anyKind')"
        :aria-label="t('list.anyKind')"
      />
    </template>
    <template #way>
      <Select
        v-model="filters.by_card_alone"
        v-bind="asFilter"
        :options="[{ value: true, word: t('cardAlone.is') }]"
        :placeholder="t('list.letInAnyhow')"
        :aria-label="t('list.letIn')"
      />
    </template>
  </I18nT>
  <I18nT v-if="ownFields.length" keypath="list.sentenceOwn" tag="div" scope="global" class="sentence">
    <template #field>
      <Select
        v-model="filters.custom_field"
        v-bind="asFilter"
        class="wide"
        :options="ownFields"
        :placeholder="t('list.anyOwn')"
        :aria-label="t('list.anyOwn')"
      />
    </template>
    <template #value>
      <Select
        v-if="own && ownChoices.length"
        v-model="filters.custom_value"
        v-bind="asFilter"
        :options="ownChoices"
        :placeholder="t('list.ownNone')"
        :aria-label="labelOf(own.labels)"
      />
      <InputText
        v-else
        v-model="filters.custom_value"
        size="small"
        class="text"
        :disabled="!own"
        :placeholder="t('list.ownNone')"
        :aria-label="own ? labelOf(own.labels) : t('list.ownValue')"
      />
    </template>
  </I18nT>
</template>

<style scoped>
.text {
  width: 140px;
}
.wide {
  max-width: 190px;
}
</style>

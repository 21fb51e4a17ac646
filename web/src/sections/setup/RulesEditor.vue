<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import Field from '@/kit/controls/Field.vue'
import MultiSelect from '@/kit/controls/multi-select'
import NumberField from '@/kit/controls/NumberField.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { t } from '@/words'

type Rules = components['schemas']['SettingsShape']

const props = defineProps<{ rules: Rules; mayChange: boolean }>()

const NAMES = ['first_last', 'last_first', 'initial_last'] as const
const names = NAMES.map((value) => ({ value, word: t(`setup.nameRules.${value}`) }))
const ASKED = ['email', 'phones', 'portrait', 'department', 'company', 'kind', 'born_on'] as const
const asked = ASKED.map((value) => ({ value, word: t(`setup.mayBeRequired.${value}`) }))

const editor = useEditor('rules', 0, (): Rules => ({
  ...props.rules,
  required_fields: [...props.rules.required_fields],
  image_names: [props.rules.image_names[0] ?? '', props.rules.image_names[1] ?? ''],
}))
const { draft, act, at } = editor

const settled = refDebounced(
  computed(() => JSON.stringify(draft)),
  300,
)
const { data: effect } = useQuery({
  queryKey: keyOf('setup', 'rules', 'weighed', settled),
  queryFn: ({ signal }) =>
    unwrap(client.POST('/api/preview/register/', { body: JSON.parse(settled.value) as Rules, signal })),
  enabled: props.mayChange,
  placeholderData: keepPreviousData,
  retry: false,
})

const save = () => act(() => unwrap(client.PUT('/api/register/', { body: draft })))
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <h3>{{ t('setup.numbers') }}</h3>
    <div class="line">
      <Field v-slot="{ id, invalid, describedBy }" :label="t('setup.prefix')" :problems="at('number_prefix')">
        <InputText
          :id="id"
          v-model="draft.number_prefix"
          size="small"
          class="mono short"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <NumberField
        v-model="draft.number_width"
        class="short"
        :label="t('setup.width')"
        :problems="at('number_width')"
      />
      <NumberField
        v-model="draft.number_start"
        class="short"
        :label="t('setup.start')"
        :problems="at('number_start')"
      />
      <p class="next quiet">
        {{ t('setup.next') }} <b class="mono">{{ effect?.next_number }}</b>
      </p>
    </div>
    <h3>{{ t('setup.names') }}</h3>
    <div class="line">
      <Field v-slot="{ labelId }" :label="t('setup.nameRule')" :problems="at('display_rule')">
        <Select
          v-model="draft.display_rule"
          :options="names"
          option-label="word"
          option-value="value"
          size="small"
          :aria-labelledby="labelId"
        />
      </Field>
      <NumberField
        v-model="draft.longest_name"
        class="short"
        :label="t('setup.longestName')"
        :problems="at('longest_name')"
      />
    </div>
    <p v-if="effect?.renamed" class="note" role="status">
      {{ t('setup.renames', effect.renamed) }}
      <span v-for="[was, now] in effect.examples" :key="was" class="example">{{ was }} → {{ now }}</span>
    </p>
    <h3>{{ t('setup.asked') }}</h3>
    <div class="line">
      <Field v-slot="{ labelId }" :label="t('setup.requiredFields')" :problems="at('required')">
        <MultiSelect
          v-model="draft.required_fields"
          :options="asked"
          option-label="word"
          option-value="value"
          size="small"
          display="chip"
          class="wide"
          :placeholder="t('setup.nothingRequired')"
          :aria-labelledby="labelId"
        />
      </Field>
      <Field v-slot="{ id, invalid, describedBy }" :label="t('setup.region')" :problems="at('region')">
        <InputText
          :id="id"
          v-model="draft.region"
          size="small"
          class="mono short"
          maxlength="2"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
    </div>
    <h3>{{ t('setup.images') }}</h3>
    <div class="line">
      <Field
        v-for="place in [0, 1]"
        :key="place"
        v-slot="{ id, invalid, describedBy }"
        :label="t('setup.imageName', { place: place + 2 })"
        :problems="at(`image_names.${place}`)"
      >
        <InputText
          :id="id"
          v-model="draft.image_names[place]"
          size="small"
          :placeholder="t('setup.imageUnused')"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
    </div>
    <EditorFoot v-if="mayChange" :editor="editor" />
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 720px;
}
h3 {
  margin-top: 10px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 16px;
}
.short,
.line :deep(.short) {
  width: 7em;
}
.wide {
  min-width: 260px;
}
.next {
  padding-top: 20px;
}
.note {
  padding: 6px 8px;
  background: var(--p-cadrin-amber-paper);
}
.example {
  display: block;
}
</style>

<script setup lang="ts">
import { Plus, X } from '@lucide/vue'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { useId } from 'vue'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import Field from '@/kit/controls/Field.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { labelOf } from '@/kit/said/labels'
import { t } from '@/words'

type OwnField = components['schemas']['OwnFieldAsDefined']

const props = defineProps<{ field: OwnField | undefined; mayChange: boolean }>()
const emit = defineEmits<{ done: [] }>()

const TYPES = ['text', 'long_text', 'number', 'date', 'choice', 'yes_no'] as const
const LANGUAGES = ['en', 'de'] as const
const types = TYPES.map((value) => ({ value, word: t(`setup.types.${value}`) }))
const [requiredId, uniqueId] = [useId(), useId()]

const editor = useEditor('own-field', props.field?.id, () => ({
  version: props.field?.version ?? 0,
  labels: { en: '', de: '', ...props.field?.labels },
  help: { en: '', de: '', ...props.field?.help },
  type: props.field?.type ?? 'text',
  choices: (props.field?.choices ?? []).map((one) => ({ key: one.key, labels: { ...one.labels } })),
  is_required: props.field?.is_required ?? false,
  is_unique: props.field?.is_unique ?? false,
}))
const { draft, act, at } = editor

/** A key nobody has used: it is what cardholders keep, so it never follows the label. */
function addChoice() {
  const used = new Set(draft.choices.map((one) => one.key))
  let number = draft.choices.length + 1
  while (used.has(`c${number}`)) number += 1
  draft.choices.push({ key: `c${number}`, labels: { en: '', de: '' } })
}

async function save() {
  const id = props.field?.id
  const body = { ...draft, choices: draft.type === 'choice' ? draft.choices : [] }
  const saved = await act(async () => {
    await unwrap(
      id === undefined
        ? client.POST('/api/own-fields/', { body })
        : client.PUT('/api/own-fields/{id}/', { params: { path: { id } }, body }),
    )
    return true
  })
  if (saved) emit('done')
}
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <h2>{{ field ? labelOf(field.labels) : t('setup.newField') }}</h2>
    <div class="pair stacks-late">
      <Field
        v-for="language in LANGUAGES"
        :key="language"
        v-slot="{ id, invalid, describedBy }"
        :label="t('setup.label', { language: t(`languages.${language}`) })"
        :problems="at(`labels.${language}`)"
      >
        <InputText
          :id="id"
          v-model="draft.labels[language]"
          size="small"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <Field
        v-for="language in LANGUAGES"
        :key="`help-${language}`"
        v-slot="{ id, invalid, describedBy }"
        :label="t('setup.help', { language: t(`languages.${language}`) })"
        :problems="at(`help.${language}`)"
      >
        <InputText
          :id="id"
          v-model="draft.help[language]"
          size="small"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
    </div>
    <Field v-slot="{ labelId, invalid }" :label="t('setup.type')" :problems="at('type')">
      <Select
        v-model="draft.type"
        :options="types"
        option-label="word"
        option-value="value"
        size="small"
        :invalid="invalid"
        :aria-labelledby="labelId"
      />
    </Field>
    <Field v-if="draft.type === 'choice'" :label="t('setup.choices')" :problems="at('choices')">
      <ul>
        <li v-for="(one, place) in draft.choices" :key="one.key" class="choice">
          <Field
            v-for="language in LANGUAGES"
            :key="language"
            v-slot="{ id, invalid, describedBy }"
            :label="t(`languages.${language}`)"
            :problems="language === 'en' ? at(`choices.${place}`) : []"
          >
            <InputText
              :id="id"
              v-model="one.labels[language]"
              size="small"
              :invalid="invalid"
              :aria-describedby="describedBy"
            />
          </Field>
          <Button
            size="small"
            severity="secondary"
            variant="text"
            class="drop"
            :aria-label="`${t('setup.remove')}: ${labelOf(one.labels)}`"
            @click="draft.choices.splice(place, 1)"
          >
            <X :size="14" aria-hidden="true" />
          </Button>
        </li>
      </ul>
      <Button size="small" severity="secondary" variant="text" class="add" @click="addChoice">
        <Plus :size="14" aria-hidden="true" /> {{ t('setup.addChoice') }}
      </Button>
    </Field>
    <div class="check">
      <Checkbox v-model="draft.is_required" :input-id="requiredId" binary size="small" />
      <label :for="requiredId">{{ t('setup.isRequired') }}</label>
    </div>
    <Field :label="''" :problems="at('is_unique')">
      <div class="check">
        <Checkbox v-model="draft.is_unique" :input-id="uniqueId" binary size="small" />
        <label :for="uniqueId">{{ t('setup.isUnique') }}</label>
      </div>
    </Field>
    <EditorFoot v-if="mayChange" :editor="editor" @discard="emit('done')" />
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 460px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
}
.choice {
  display: flex;
  gap: 8px;
}
.drop {
  margin-top: 17px;
}
.add {
  align-self: flex-start;
}
.check {
  display: flex;
  align-items: center;
  gap: 8px;
}
.check label {
  font-size: 14px;
  color: var(--p-cadrin-ink);
}
</style>

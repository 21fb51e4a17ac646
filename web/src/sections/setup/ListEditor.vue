<script setup lang="ts">
import ToggleSwitch from 'primevue/toggleswitch'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import Field from '@/kit/controls/Field.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

/** One company or kind of cardholder, or a new one. */
const props = defineProps<{
  which: 'companies' | 'kinds'
  listed: components['schemas']['Listed'] | undefined
}>()
const emit = defineEmits<{ done: [] }>()

const editor = useEditor(props.which, props.listed?.id, () => ({
  version: props.listed?.version ?? 0,
  name: props.listed?.name ?? '',
  short_name: props.listed?.short_name ?? '',
  is_retired: props.listed?.is_retired ?? false,
}))
const { draft, act, at } = editor

async function save() {
  const id = props.listed?.id
  const isCompany = props.which === 'companies'
  const saved = await act(() => {
    if (id === undefined)
      return unwrap(
        isCompany
          ? client.POST('/api/companies/', { body: draft })
          : client.POST('/api/kinds/', { body: draft }),
      )
    const asked = { params: { path: { id } }, body: draft }
    return unwrap(
      isCompany ? client.PUT('/api/companies/{id}/', asked) : client.PUT('/api/kinds/{id}/', asked),
    )
  })
  if (saved) emit('done')
}
</script>

<template>
  <form class="fields" @submit.prevent="save">
    <TextField v-model="draft.name" :label="t('setup.name')" :problems="at('name')" />
    <TextField
      v-if="which === 'companies'"
      v-model="draft.short_name"
      class="short"
      :label="t('setup.shortName')"
      :problems="at('short_name')"
    />
    <Field v-slot="{ labelId }" :label="t('setup.retire')">
      <ToggleSwitch v-model="draft.is_retired" :aria-labelledby="labelId" />
    </Field>
    <EditorFoot class="foot" :editor="editor" @discard="emit('done')" />
  </form>
</template>

<style scoped>
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 14px;
}
.short {
  width: 8em;
}
.foot {
  width: 100%;
  margin-top: 4px;
}
</style>

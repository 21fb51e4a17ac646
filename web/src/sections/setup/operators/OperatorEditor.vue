<script setup lang="ts">
import Select from 'primevue/select'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import MayChange from '@/kit/controls/MayChange.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { LANGUAGES, t, wordsForRole } from '@/words'

import OperatorAccess from './OperatorAccess.vue'
import type { Operator, Role } from './queries'
import { keptTo, scopeOf } from './scope'
import ScopeFields from './ScopeFields.vue'

const props = defineProps<{ operator: Operator | undefined; roles: Role[] }>()
const emit = defineEmits<{ done: [id: number] }>()
const mayChange = useSession().may('operators')

const editor = useEditor('operator', props.operator?.id, () => ({
  version: props.operator?.version ?? 0,
  username: props.operator?.username ?? '',
  first_name: props.operator?.first_name ?? '',
  last_name: props.operator?.last_name ?? '',
  email: props.operator?.email ?? '',
  role: props.operator?.role ?? null,
  language: props.operator?.language ?? 'en',
  is_active: props.operator?.is_active ?? true,
  scope: scopeOf(props.operator?.limited_to),
}))
const { draft, act, at } = editor
const roleChoices = computed(() => props.roles.map((one) => ({ id: one.id, name: wordsForRole(one.name) })))
const languages = LANGUAGES.map((value) => ({ value, word: t(`account.languages.${value}`) }))

async function save() {
  const id = props.operator?.id
  const { scope, ...rest } = draft
  const body = { ...rest, role: rest.role ?? 0, limited_to: keptTo(scope) }
  const saved = await act(() =>
    unwrap(
      id === undefined
        ? client.POST('/api/operators/', { body })
        : client.PUT('/api/operators/{id}/', { params: { path: { id } }, body }),
    ),
  )
  if (saved) emit('done', saved.id)
}
</script>

<template>
  <div>
    <form class="editor" @submit.prevent="save">
      <h2>{{ operator ? `${operator.first_name} ${operator.last_name}` : t('admin.newOperator') }}</h2>
      <MayChange :may="mayChange">
        <div class="pair">
          <TextField v-model="draft.first_name" :label="t('admin.first_name')" :problems="at('first_name')" />
          <TextField v-model="draft.last_name" :label="t('admin.last_name')" :problems="at('last_name')" />
          <TextField
            v-model="draft.username"
            is-mono
            :label="t('admin.username')"
            :problems="at('username')"
          />
          <TextField v-model="draft.email" type="email" :label="t('admin.email')" :problems="at('email')" />
          <Field v-slot="{ labelId, invalid }" :label="t('admin.role')" :problems="at('role')">
            <Select
              v-model="draft.role"
              :options="roleChoices"
              option-label="name"
              option-value="id"
              size="small"
              :invalid="invalid"
              :aria-labelledby="labelId"
            />
          </Field>
          <Field v-slot="{ labelId }" :label="t('admin.language')" :problems="at('language')">
            <Select
              v-model="draft.language"
              :options="languages"
              option-label="word"
              option-value="value"
              size="small"
              :aria-labelledby="labelId"
            />
          </Field>
        </div>
        <ScopeFields v-model="draft.scope" :at="at" />
        <Field v-if="operator" v-slot="{ labelId }" :label="t('admin.isActive')" :problems="at('is_active')">
          <ToggleSwitch v-model="draft.is_active" :aria-labelledby="labelId" />
        </Field>
      </MayChange>
      <EditorFoot v-if="mayChange" :editor="editor" />
    </form>
    <OperatorAccess v-if="operator && mayChange" :operator="operator" />
  </div>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
}
</style>

<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, ref, useTemplateRef } from 'vue'

import { client, unwrap } from '@/api/client'
import TakenUp from '@/kit/controls/TakenUp.vue'
import { useEditor } from '@/kit/state/editor'
import Field from '@/kit/controls/Field.vue'
import { useFirstField } from '@/kit/controls/first-field'
import { dayHint } from '@/kit/time/days'
import InstantField from '@/kit/time/InstantField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t, wordsForRole } from '@/words'

import OnceShown from './OnceShown.vue'
import type { Role } from './queries'
import { keptTo, scopeOf } from './scope'
import ScopeFields from './ScopeFields.vue'

const MONTH_MS = 30 * 86_400_000

const props = defineProps<{ roles: Role[] }>()
const emit = defineEmits<{ made: []; done: [] }>()
const key = ref('')
const form = useTemplateRef('form')
useFirstField(form)
interface Draft {
  name: string
  role: number | null
  expires_at: string | null
  scope: ReturnType<typeof scopeOf>
}
const inAMonth = new Date(Date.now() + MONTH_MS).toISOString()
const editor = useEditor<Draft>('token', undefined, () => ({
  name: '',
  role: null,
  expires_at: inAMonth,
  scope: scopeOf(undefined),
}))
const { draft, act, isBusy, at, elsewhere, isTakenUp, isDirty } = editor
const roleChoices = computed(() => props.roles.map((one) => ({ id: one.id, name: wordsForRole(one.name) })))

function cancel() {
  editor.discard()
  emit('done')
}
async function make() {
  const body = {
    name: draft.name,
    role: draft.role ?? 0,
    expires_at: draft.expires_at ?? '',
    limited_to: keptTo(draft.scope),
  }
  const made = await act(() => unwrap(client.POST('/api/tokens/', { body })))
  if (!made) return
  key.value = made.key
  emit('made')
}
</script>

<template>
  <div v-if="key" class="editor">
    <OnceShown :hint="t('admin.tokenMade')" :text="key" />
    <div><Button size="small" :label="t('common.close')" @click="emit('done')" /></div>
  </div>
  <form v-else ref="form" class="editor" @submit.prevent="make">
    <h2>{{ t('admin.newToken') }}</h2>
    <TakenUp v-if="isTakenUp && isDirty" />
    <TextField v-model="draft.name" :label="t('admin.tokenName')" :problems="at('name')" />
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
    <InstantField
      v-model="draft.expires_at"
      :label="t('admin.expires')"
      :empty="dayHint()"
      :problems="at('expires_at')"
    />
    <p class="quiet hint">{{ t('admin.expiresHint') }}</p>
    <ScopeFields v-model="draft.scope" :at="at" />
    <div class="row">
      <Button type="submit" size="small" :label="t('admin.makeToken')" :loading="isBusy" />
      <Button size="small" severity="secondary" variant="text" :label="t('common.cancel')" @click="cancel" />
      <span class="denied" role="alert">{{ elsewhere }}</span>
    </div>
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.hint {
  margin-top: -6px;
  font-size: 12px;
}
</style>

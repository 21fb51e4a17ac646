<script setup lang="ts">
import Button from 'primevue/button'
import Select from 'primevue/select'
import { computed, reactive, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { useAct } from '@/kit/state/act'
import Field from '@/kit/controls/Field.vue'
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
const { act, isBusy, at, elsewhere } = useAct()
const key = ref('')
const draft = reactive<{ name: string; role: number | null; expires_at: string | null }>({
  name: '',
  role: null,
  expires_at: new Date(Date.now() + MONTH_MS).toISOString(),
})
const scope = reactive(scopeOf(undefined))
const roleChoices = computed(() => props.roles.map((one) => ({ id: one.id, name: wordsForRole(one.name) })))

async function make() {
  const body = {
    name: draft.name,
    role: draft.role ?? 0,
    expires_at: draft.expires_at ?? '',
    limited_to: keptTo(scope),
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
  <form v-else class="editor" @submit.prevent="make">
    <h2>{{ t('admin.newToken') }}</h2>
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
    <ScopeFields v-model="scope" :at="at" />
    <div class="row">
      <Button type="submit" size="small" :label="t('admin.makeToken')" :loading="isBusy" />
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('done')"
      />
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

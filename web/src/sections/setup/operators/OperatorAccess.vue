<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { whenWords } from '@/kit/time/clock'
import { t } from '@/words'

import OnceShown from './OnceShown.vue'
import type { Operator } from './queries'

/** How an operator comes in: the link to set a password, sessions, one-time codes. */
const props = defineProps<{ operator: Operator }>()
const queries = useQueryClient()
const { act, isBusy, elsewhere } = useAct()
const link = ref('')
const params = { path: { id: props.operator.id } }
const again = () => queries.invalidateQueries({ queryKey: keyOf('setup', 'operators') })

async function makeLink() {
  const made = await act(() => unwrap(client.POST('/api/operators/{id}/link/', { params })))
  if (made) link.value = new URL(made.path, window.location.origin).href
  await again()
}
const endSessions = () =>
  act(() => unwrap(client.DELETE('/api/operators/{id}/sessions/', { params })), t('admin.sessionsEnded'))
async function dropCodes() {
  await act(() => unwrap(client.DELETE('/api/operators/{id}/codes/', { params })), t('admin.codesDropped'))
  await again()
}
</script>

<template>
  <section class="access" aria-labelledby="operator-access">
    <h3 id="operator-access">{{ t('admin.access') }}</h3>
    <p class="quiet">
      {{ operator.has_password ? t('admin.hasPassword') : t('admin.noPassword') }}
      {{
        operator.last_login
          ? t('admin.lastLogin', { when: whenWords(operator.last_login) })
          : t('admin.neverIn')
      }}
      <template v-if="operator.has_codes">{{ t('admin.hasCodes') }}</template>
    </p>
    <OnceShown v-if="link" :hint="t('admin.linkMade')" :text="link" />
    <div class="row">
      <Button
        size="small"
        severity="secondary"
        :title="t('admin.linkHint')"
        :label="t('admin.link')"
        :loading="isBusy"
        @click="makeLink"
      />
      <Button size="small" severity="secondary" :label="t('admin.endSessions')" @click="endSessions" />
      <Button
        v-if="operator.has_codes"
        size="small"
        severity="secondary"
        :label="t('admin.dropCodes')"
        @click="dropCodes"
      />
    </div>
    <p class="quiet hint">{{ t('admin.linkHint') }}</p>
    <p class="denied" role="alert">{{ elsewhere }}</p>
  </section>
</template>

<style scoped>
.access {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin-top: 14px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.row {
  flex-wrap: wrap;
}
.hint {
  font-size: 12px;
}
</style>

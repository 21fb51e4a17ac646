<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { Plus } from '@lucide/vue'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { flagInAddress } from '@/kit/state/addressed'
import { useAct } from '@/kit/state/act'
import { dayWords, whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { t, wordsForRole } from '@/words'

import { roles, type Token, tokens } from './queries'
import TokenEditor from './TokenEditor.vue'

/** Keys for scripts: those that count, those that are over, and a new one. */
const queries = useQueryClient()
const confirm = useConfirm()
const mayChange = useSession().may('operators')
const { data, isError } = useQuery(tokens)
const { data: allRoles } = useQuery(roles)
const { act, elsewhere } = useAct()
const isMaking = flagInAddress('new')

const roleOf = (id: number) => wordsForRole(allRoles.value?.find((one) => one.id === id)?.name ?? '')
function ends(token: Token) {
  if (token.withdrawn_at) return t('admin.withdrawn', { when: whenWords(token.withdrawn_at) })
  return t(token.is_in_force ? 'admin.until' : 'admin.over', { when: dayWords(token.expires_at) })
}
const again = () => queries.invalidateQueries({ queryKey: keyOf('setup', 'tokens') })

function askToWithdraw(token: Token) {
  confirm.require({
    header: t('admin.withdrawOf', { name: token.name }),
    message: t('admin.withdrawAsk'),
    acceptLabel: t('admin.withdraw'),
    rejectLabel: t('common.cancel'),
    acceptProps: { severity: 'danger', size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () => void withdraw(token.id),
  })
}
async function withdraw(id: number) {
  await act(() => unwrap(client.DELETE('/api/tokens/{id}/', { params: { path: { id } } })))
  await again()
}
</script>

<template>
  <div class="both">
    <div class="list">
      <h2>{{ t('setup.parts.tokens') }}</h2>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <button v-if="mayChange" type="button" class="new" @click="isMaking = true">
        <Plus :size="14" aria-hidden="true" /> {{ t('admin.newToken') }}
      </button>
      <p class="about">
        <a class="scripts" href="/api/v1" target="_blank" rel="noopener">{{ t('admin.forScripts') }}</a>
      </p>
      <p v-if="data && !data.length" class="quiet">{{ t('admin.noTokens') }}</p>
      <ul>
        <li v-for="one in data" :key="one.id" class="token" :class="{ quiet: !one.is_in_force }">
          <span>
            <b>{{ one.name }}</b> {{ roleOf(one.role) }}
            <span class="quiet about">
              {{ ends(one) }},
              {{ one.used_at ? t('admin.used', { when: whenWords(one.used_at) }) : t('admin.unused') }}
            </span>
          </span>
          <Button
            v-if="mayChange && one.is_in_force"
            size="small"
            severity="secondary"
            variant="text"
            :label="t('admin.withdraw')"
            :aria-label="t('admin.withdrawOf', { name: one.name })"
            @click="askToWithdraw(one)"
          />
        </li>
      </ul>
      <p class="denied" role="alert">{{ elsewhere }}</p>
    </div>
    <TokenEditor v-if="isMaking && allRoles" :roles="allRoles" @made="again" @done="isMaking = false" />
  </div>
</template>

<style scoped src="./parts.css"></style>
<style scoped>
.scripts {
  display: inline-block;
  padding: 3px 0;
}
.token {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding: 5px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.about {
  display: block;
  font-size: 13px;
}
</style>

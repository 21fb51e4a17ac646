<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import { useAct } from '@/kit/state/act'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

/** One-time codes: turn them on with a first code, keep the recovery codes, turn them off with the password. */
defineProps<{ account: components['schemas']['AccountShape'] }>()

const queries = useQueryClient()
const { act, isBusy, at, elsewhere } = useAct()
const proposed = ref<components['schemas']['CodesProposed'] | null>(null)
const recovery = ref<string[]>([])
const isTurningOff = ref(false)
const code = ref('')
const password = ref('')
const again = () => queries.invalidateQueries({ queryKey: keyOf('account') })

async function propose() {
  proposed.value = (await act(() => unwrap(client.POST('/api/account/codes/')))) ?? null
}
async function confirm() {
  const found = await act(() => unwrap(client.PUT('/api/account/codes/', { body: { code: code.value } })))
  if (!found) return
  recovery.value = found.codes
  proposed.value = null
  code.value = ''
  await again()
}
async function turnOff() {
  const done = await act(async () => {
    await unwrap(client.POST('/api/account/codes/off/', { body: { password: password.value } }))
    return true
  })
  if (!done) return
  isTurningOff.value = false
  password.value = ''
  await again()
}
</script>

<template>
  <section aria-labelledby="codes-head">
    <h2 id="codes-head">{{ t('account.codes') }}</h2>
    <template v-if="recovery.length">
      <p role="status">{{ t('account.recovery') }}</p>
      <ul class="mono codes">
        <li v-for="one in recovery" :key="one">{{ one }}</li>
      </ul>
      <Button size="small" :label="t('account.kept')" @click="recovery = []" />
    </template>
    <form v-else-if="proposed" class="form" @submit.prevent="confirm">
      <p>{{ t('account.scan') }}</p>
      <img :src="proposed.picture" :alt="t('account.picture')" width="180" height="180" />
      <p class="mono secret">{{ proposed.secret }}</p>
      <TextField
        v-model="code"
        is-mono
        autocomplete="one-time-code"
        :label="t('account.code')"
        :problems="at('code')"
      />
      <div class="row">
        <Button
          type="submit"
          size="small"
          :label="t('account.confirm')"
          :loading="isBusy"
          :disabled="!code"
        />
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('common.cancel')"
          @click="proposed = null"
        />
      </div>
    </form>
    <template v-else-if="account.has_codes">
      <p>{{ t('account.codesOn', account.recovery_codes_left) }}</p>
      <form v-if="isTurningOff" class="form" @submit.prevent="turnOff">
        <TextField
          v-model="password"
          type="password"
          autocomplete="current-password"
          :label="t('account.password')"
          :hint="t('account.offHint')"
          :problems="at('password')"
        />
        <Button type="submit" size="small" :label="t('account.turnOff')" :loading="isBusy" />
      </form>
      <Button
        v-else
        size="small"
        severity="secondary"
        :label="t('account.turnOff')"
        @click="isTurningOff = true"
      />
    </template>
    <template v-else>
      <p class="quiet">{{ t('account.codesOff') }}</p>
      <Button size="small" :label="t('account.turnOn')" :loading="isBusy" @click="propose" />
    </template>
    <p class="denied" role="alert">{{ elsewhere }}</p>
  </section>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 300px;
}
img {
  padding: 8px;
  background: var(--p-surface-0);
}
.secret {
  overflow-wrap: anywhere;
}
.codes {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 22px;
}
</style>

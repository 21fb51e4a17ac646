<script setup lang="ts">
import Button from 'primevue/button'
import { reactive } from 'vue'

import { client, unwrap } from '@/api/client'
import { useAct } from '@/kit/state/act'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

const { act, isBusy, at, elsewhere } = useAct()
const draft = reactive({ present: '', new: '' })

async function change() {
  const changed = await act(async () => {
    await unwrap(client.PUT('/api/account/password/', { body: draft }))
    return true
  }, t('account.changed'))
  if (changed) Object.assign(draft, { present: '', new: '' })
}
</script>

<template>
  <section aria-labelledby="password-head">
    <h2 id="password-head">{{ t('account.password') }}</h2>
    <form class="form" @submit.prevent="change">
      <TextField
        v-model="draft.present"
        type="password"
        autocomplete="current-password"
        :label="t('account.present')"
        :problems="at('present')"
      />
      <TextField
        v-model="draft.new"
        type="password"
        autocomplete="new-password"
        :label="t('account.new')"
        :hint="t('account.passwordHint')"
        :problems="at('new')"
      />
      <div class="row">
        <Button
          type="submit"
          size="small"
          :label="t('account.change')"
          :loading="isBusy"
          :disabled="!draft.present || !draft.new"
        />
        <span class="denied" role="alert">{{ elsewhere }}</span>
      </div>
    </form>
  </section>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 8px;
  width: 100%;
  max-width: 300px;
}
</style>

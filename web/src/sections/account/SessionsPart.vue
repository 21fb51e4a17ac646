<script setup lang="ts">
import Button from 'primevue/button'

import { client, unwrap } from '@/api/client'
import { useAct } from '@/kit/state/act'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

const session = useSession()
const { act, isBusy, elsewhere } = useAct()
const end = () => act(() => unwrap(client.DELETE('/api/account/sessions/')), t('account.endedOthers'))
</script>

<template>
  <section aria-labelledby="sessions-head">
    <h2 id="sessions-head">{{ t('account.sessions') }}</h2>
    <p class="quiet">{{ t('account.sessionsHint', { minutes: session.session?.idle_minutes ?? 0 }) }}</p>
    <Button
      size="small"
      severity="secondary"
      :label="t('account.endOthers')"
      :loading="isBusy"
      @click="end"
    />
    <p class="denied" role="alert">{{ elsewhere }}</p>
  </section>
</template>

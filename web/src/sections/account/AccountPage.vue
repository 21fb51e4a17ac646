<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import SelectButton from 'primevue/selectbutton'

import { client, unwrap } from '@/api/client'
import { LANGUAGES, language, type Language, t, wordsForRole } from '@/words'

import CodesPart from './CodesPart.vue'
import PasswordPart from './PasswordPart.vue'
import { account } from './queries'
import SessionsPart from './SessionsPart.vue'

const queries = useQueryClient()
const { data, isError } = useQuery(account)
const languages = LANGUAGES.map((value) => ({ value, word: t(`account.languages.${value}`) }))

async function choose(chosen: Language) {
  const saved = await unwrap(client.PUT('/api/account/', { body: { language: chosen } }))
  queries.setQueryData(account.queryKey, saved)
  language.value = chosen
}
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>{{ data?.name ?? t('account.title') }}</h1>
      <p v-if="data" class="quiet">
        {{ t('account.of', { username: data.username, role: wordsForRole(data.role) }) }}
      </p>
    </div>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
    <div v-else class="parts">
      <section aria-labelledby="language-head">
        <h2 id="language-head">{{ t('account.language') }}</h2>
        <SelectButton
          :model-value="data.language"
          :options="languages"
          option-label="word"
          option-value="value"
          size="small"
          :allow-empty="false"
          aria-labelledby="language-head"
          @update:model-value="choose"
        />
        <p class="quiet">{{ t('account.languageHint') }}</p>
      </section>
      <PasswordPart />
      <CodesPart :account="data" />
      <SessionsPart />
    </div>
  </div>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: repeat(2, minmax(300px, 420px));
  gap: 26px 44px;
}
.parts :deep(section) {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
}
</style>

<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import SelectButton from 'primevue/selectbutton'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import SelectField from '@/kit/SelectField.vue'
import { byName, LANGUAGES, language, type Language, localeTag, region, t, wordsForRole } from '@/words'

import CodesPart from './CodesPart.vue'
import PasswordPart from './PasswordPart.vue'
import { account } from './queries'
import SessionsPart from './SessionsPart.vue'

const queries = useQueryClient()
const { data, isError } = useQuery(account)
const languages = LANGUAGES.map((value) => ({ value, word: t(`account.languages.${value}`) }))

const REGIONS = ['AT', 'AU', 'CA', 'CH', 'DE', 'GB', 'IE', 'NZ', 'US'] as const
const regions = computed(() => {
  const names = new Intl.DisplayNames(language.value, { type: 'region' })
  const named = REGIONS.map((value) => ({ value, word: names.of(value) ?? value }))
  return byName(named, (one) => one.word)
})
/** How days and times look with it. */
const sample = computed(() => {
  const noon = new Date(Date.UTC(2026, 10, 24, 17, 30))
  return new Intl.DateTimeFormat(localeTag(), {
    dateStyle: 'short',
    timeStyle: 'short',
    timeZone: 'UTC',
  }).format(noon)
})
async function choose(chosen: Language, of: string) {
  const saved = await unwrap(client.PUT('/api/account/', { body: { language: chosen, region: of } }))
  queries.setQueryData(account.queryKey, saved)
  language.value = chosen
  region.value = of
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
    <div v-else class="parts stacks">
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
          @update:model-value="choose($event, data.region)"
        />
        <p class="quiet">{{ t('account.languageHint') }}</p>
        <SelectField
          class="region"
          :model-value="data.region || null"
          :label="t('account.region')"
          :options="regions"
          :placeholder="t('account.ofLanguage')"
          show-clear
          :hint="t('account.regionHint', { sample })"
          @update:model-value="choose(data.language, $event ?? '')"
        />
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
.region {
  width: 220px;
}
.parts :deep(section) {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
}
</style>

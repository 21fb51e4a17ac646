<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import SelectButton from 'primevue/selectbutton'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import CheckLine from '@/kit/controls/CheckLine.vue'
import SelectField from '@/kit/controls/SelectField.vue'
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
type Ways = { language: Language; region: string; notices_by_mail: boolean }
async function choose(chosen: Partial<Ways>) {
  if (!data.value) return
  const { language: spoken, region: of, notices_by_mail } = { ...data.value, ...chosen }
  const body = { language: spoken, region: of, notices_by_mail }
  const saved = await unwrap(client.PUT('/api/account/', { body }))
  queries.setQueryData(account.queryKey, saved)
  language.value = spoken
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
          @update:model-value="choose({ language: $event })"
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
          @update:model-value="choose({ region: $event ?? '' })"
        />
      </section>
      <section aria-labelledby="notices-head">
        <h2 id="notices-head">{{ t('account.notices') }}</h2>
        <p class="quiet">{{ t('account.noticesHint') }}</p>
        <CheckLine
          v-if="data.can_be_mailed || data.notices_by_mail"
          :model-value="data.notices_by_mail"
          :label="t('account.noticesByMail')"
          @update:model-value="choose({ notices_by_mail: $event })"
        />
        <p v-else class="quiet">{{ t('account.noMail') }}</p>
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

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref, useId } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import NumberField from '@/kit/controls/NumberField.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { localeTag, t, wordsFor } from '@/words'

import type { FoundDay } from './holidays'

/** Days from published rules of a country, or from an iCalendar file. */
const emit = defineEmits<{ add: [days: FoundDay[]] }>()
const { act, isBusy, at, elsewhere } = useAct()

const { data: countries } = useQuery({
  queryKey: keyOf('schedules', 'countries'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/holidays/countries/', { signal })),
  staleTime: Infinity,
})
const names = new Intl.DisplayNames(localeTag(), { type: 'region' })
const options = computed(() =>
  (countries.value ?? [])
    .filter((one) => one.code.length === 2)
    .map((one) => ({ value: one.code, word: names.of(one.code) ?? one.code }))
    .sort((one, other) => one.word.localeCompare(other.word, localeTag())),
)
const country = ref<string | null>(null)
const subdivision = ref<string | null>(null)
const parts = computed(
  () =>
    countries.value
      ?.find((one) => one.code === country.value)
      ?.subdivisions.map((value) => ({ value, word: value })) ?? [],
)
const thisYear = new Date().getFullYear()
const years = ref<[number | null, number | null]>([thisYear, thisYear + 1])

async function addPublic() {
  const [first = thisYear, last = thisYear] = years.value
  const query = {
    country: country.value ?? '',
    subdivision: subdivision.value ?? '',
    first_year: first ?? thisYear,
    last_year: last ?? thisYear,
  }
  const found = await act(() => unwrap(client.GET('/api/holidays/public/', { params: { query } })))
  if (found) emit('add', found.days)
}

const chooser = ref<HTMLInputElement>()
const chooserId = useId()
const notUnderstood = ref<string[]>([])
async function addFile() {
  const file = chooser.value?.files?.[0]
  if (!file) return
  const form = new FormData()
  form.append('file', file)
  const found = await act(() =>
    unwrap(client.POST('/api/holidays/file/', { body: { file: '' }, bodySerializer: () => form })),
  )
  if (chooser.value) chooser.value.value = ''
  notUnderstood.value = found?.problems.map(wordsFor) ?? []
  if (found) emit('add', found.days)
}
</script>

<template>
  <section class="more">
    <h3>{{ t('holidays.public') }}</h3>
    <div class="fields stacks-late">
      <SelectField
        v-model="country"
        :label="t('holidays.country')"
        :options="options"
        filter
        :problems="at('country')"
        @update:model-value="subdivision = null"
      />
      <SelectField
        v-model="subdivision"
        :label="t('holidays.subdivision')"
        :options="parts"
        filter
        show-clear
        :placeholder="t('holidays.wholeCountry')"
        :disabled="!parts.length"
        :problems="at('subdivision')"
      />
      <NumberField v-model="years[0]" :label="t('holidays.fromYear')" :problems="at('first_year')" />
      <NumberField v-model="years[1]" :label="t('holidays.toYear')" :problems="at('years')" />
      <Button
        size="small"
        severity="secondary"
        :label="t('holidays.addPublic')"
        :disabled="!country"
        :loading="isBusy"
        @click="addPublic"
      />
    </div>
    <div class="row file">
      <input
        :id="chooserId"
        ref="chooser"
        class="unseen"
        type="file"
        accept=".ics,text/calendar"
        tabindex="-1"
        :aria-label="t('holidays.fromFile')"
        @change="addFile"
      />
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('holidays.fromFile')"
        @click="chooser?.click()"
      />
      <span class="denied" role="alert">{{ [elsewhere, ...at('file').map(wordsFor)].join(' ') }}</span>
    </div>
    <ul v-if="notUnderstood.length" class="denied">
      <li v-for="one in notUnderstood" :key="one">{{ one }}</li>
    </ul>
  </section>
</template>

<style scoped>
.more {
  margin-top: 14px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.fields {
  display: grid;
  grid-template-columns: 1.4fr 1fr 76px 76px auto;
  gap: 8px;
  align-items: end;
}
.file {
  margin-top: 4px;
}
</style>

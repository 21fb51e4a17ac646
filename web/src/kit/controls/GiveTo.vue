<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'

import { t } from '@/words'

import { type CardNumbers, newCard } from '@/kit/said/card'
import { type FoundPerson, useFoundPeople } from '@/kit/state/found-people'
import { useSession } from '@/kit/state/session'
import { cardQuery, newCardholder } from '@/kit/state/use-read'

import { useFirstField } from './first-field'

/** Give a card in hand to a cardholder, found as one types, or to a new one. It is issued when their file is saved. */
const props = defineProps<{
  card: CardNumbers
  groupId?: number | null
  /** It was asked for: whoever is typed next is sought here. */
  isAskedFor?: boolean
}>()
const row = useTemplateRef('row')
useFirstField(row, () => props.isAskedFor)
const router = useRouter()
const session = useSession()
const typed = ref<string | FoundPerson>('')
const { found, box } = useFoundPeople(give)
function give({ id }: FoundPerson) {
  const query = { card: cardQuery(newCard(props.card)), ...(props.groupId ? { group: props.groupId } : {}) }
  void router.push({ name: 'cardholder', params: { id }, query, hash: '#cards' })
}
const { format, facility_code, card_number } = props.card
const toNew = newCardholder({ format_id: format, facility_code, card_number }, props.groupId)
</script>

<template>
  <span v-if="session.may('issue')" ref="row" class="row give">
    <span>{{ t('life.giveTo') }}</span>
    <AutoComplete
      v-model="typed"
      :suggestions="found"
      option-label="words"
      size="small"
      auto-option-focus
      :delay="150"
      :placeholder="t('life.find')"
      :aria-label="`${t('life.giveTo')}: ${t('life.find')}`"
      v-bind="box"
      @option-select="give($event.value)"
    />
    <RouterLink v-if="session.may('enrol')" :to="toNew">{{ t('desk.new') }}</RouterLink>
  </span>
</template>

<style scoped>
.give {
  flex-wrap: wrap;
  white-space: nowrap;
}
</style>

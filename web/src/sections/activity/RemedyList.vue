<script setup lang="ts">
import { computed } from 'vue'
import type { RouteLocationRaw } from 'vue-router'

import type { Explanation } from '@/api/client'
import { cardWords } from '@/kit/said/card'
import GiveTo from '@/kit/controls/GiveTo.vue'
import { useSession } from '@/kit/state/session'
import { cardOf } from '@/kit/state/use-read'
import { t } from '@/words'

/** What would open the door now, the shortest way first; or why nothing an operator does would. */
const props = defineProps<{ of: Explanation }>()
const session = useSession()

type RemedyStep = Explanation['remedies'][number][number]
const SECTION: Partial<Record<RemedyStep['act'], string>> = {
  card_status: 'cards',
  card_dates: 'cards',
  card_uses: 'cards',
  card_hours: 'cards',
  return_a_card: 'cards',
  set_pin: 'pins',
  set_plate: 'plates',
  standing: 'validity',
  dates: 'validity',
  add_to_group: 'access',
  group_dates: 'access',
}
/** What is done where one sees how the door stands. */
const AT_THE_DOOR = new Set<RemedyStep['act']>(['end_order', 'forgive', 'make_room', 'let_in'])
const read = computed(() => props.of.read)
const holder = computed(() => props.of.holder_id)
const name = computed(() => props.of.holder_name || t('activity.driver'))
const card = computed(() => cardOf(read.value))

/** The group that a remedy puts them into. */
const groupWith = (remedy: RemedyStep[]) => remedy.find((one) => one.act === 'add_to_group')?.group_id ?? null
/** Where an act is done: with the group of its remedy proposed already, as one save does all of it. */
function placeOf(one: RemedyStep, remedy: RemedyStep[]): RouteLocationRaw | null {
  if (one.act === 'reader_policy' || one.act === 'reader_formats')
    return { name: 'setup', params: { part: 'readers' } }
  if (AT_THE_DOOR.has(one.act) && read.value.door_id)
    return { name: 'access', params: { part: 'doors', id: String(read.value.door_id) } }
  if (one.act === 'closed_hours') return { name: 'setup', params: { part: 'places' } }
  const section = SECTION[one.act]
  if (!section || !holder.value) return null
  const group = groupWith(remedy)
  const query = {
    ...(group === null ? {} : { group: String(group) }),
    // the card that is in the way stands open there
    ...(section === 'cards' ? { opened: (one.card ?? read.value).card_number ?? undefined } : {}),
  }
  return { name: 'cardholder', params: { id: holder.value }, query, hash: `#${section}` }
}
function words(one: RemedyStep): string {
  const said = t(`activity.acts.${one.act}`, {
    name: name.value,
    group: one.group_name,
    card: one.card ? cardWords(one.card) : '',
  })
  return one.without ? t('activity.without', { act: said, factor: t(`factors.${one.without}`) }) : said
}
const isNew = (remedy: RemedyStep[]) => remedy.some((one) => one.act === 'issue_card')

const isFormatUnknown = computed(() => props.of.against.at(-1) === 'wrong_length')
const cannot = computed(() => {
  const last = props.of.against.at(-1)
  switch (last) {
    case 'wrong_length':
      return t('activity.cannot.format')
    case 'wrong_parity':
      return t('activity.cannot.badRead')
    case 'card_superseded':
      return t('activity.cannot.superseded')
    case 'pin_wrong':
      return t('activity.cannot.pin')
    case 'unknown_card':
      return t('activity.cannot.card')
    default:
      return t('activity.cannot.hours')
  }
})
</script>

<template>
  <div v-if="of.against.length">
    <template v-if="of.against.length > 1">
      <h3>{{ t('activity.against') }}</h3>
      <ul class="against">
        <li v-for="reason in of.against" :key="reason">{{ t(`reasons.${reason}`) }}</li>
      </ul>
    </template>
    <h3>{{ t('activity.remedy') }}</h3>
    <p v-if="!of.remedies.length">{{ cannot }}</p>
    <RouterLink
      v-if="isFormatUnknown && read.raw"
      :to="{ name: 'cards', params: { part: 'number' }, query: { raw: read.raw } }"
      >{{ t('cards.partsOf.number') }}</RouterLink
    >
    <template v-for="(remedy, place) in of.remedies" :key="place">
      <p v-if="place > 0" class="quiet">{{ t('activity.or') }}</p>
      <template v-if="isNew(remedy)">
        <GiveTo v-if="card && session.may('issue')" :card="card" :group-id="groupWith(remedy)" />
        <p v-else>{{ t('activity.acts.issue_card') }}</p>
        <p v-if="groupWith(remedy) !== null" class="quiet">
          {{ t('activity.withGroup', { group: remedy.at(-1)?.group_name ?? '' }) }}
        </p>
      </template>
      <ol v-else class="acts">
        <li v-for="one in remedy" :key="one.act">
          <RouterLink v-if="placeOf(one, remedy)" :to="placeOf(one, remedy) ?? ''" class="act">{{
            words(one)
          }}</RouterLink>
          <template v-else>{{ words(one) }}</template>
        </li>
      </ol>
    </template>
  </div>
</template>

<style scoped>
h3 {
  margin-top: 6px;
}
.against {
  margin-bottom: 6px;
  padding-left: 16px;
  list-style: disc;
}
.acts li {
  padding: 1px 0;
}
.act {
  font-weight: 600;
}
</style>

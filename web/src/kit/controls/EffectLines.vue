<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import type { House, ToSend } from '@/api/client'
import { controllers, schedules as allSchedules } from '@/api/queries'
import { t } from '@/words'

import { cardWords } from '@/kit/said/card'
import { dayWords } from '@/kit/time/clock'

/** What a draft would open, close and send, in words. */
const props = defineProps<{
  doors: House['doors']
  gained: number[]
  lost: number[]
  otherHours: number[]
  waysOut?: { gained: number[]; lost: number[]; other_hours: number[] }
  toSend: ToSend[]
  isCounted?: boolean
}>()

const { data: schedules } = useQuery(allSchedules)
const scheduleNames = computed(() => new Map((schedules.value ?? []).map((one) => [one.id, one.name])))
const { data: known } = useQuery({ ...controllers, refetchInterval: false })
const names = computed(() => new Map(props.doors.map((one) => [one.id, one.name])))
const LISTED = 6
function listed(ids: number[]): string {
  const some = ids.slice(0, LISTED).map((id) => names.value.get(id) ?? '?')
  const rest = ids.length - some.length
  return rest > 0 ? `${some.join(', ')} ${t('common.more', { count: rest })}` : some.join(', ')
}
const cutWords = (what: ToSend['cut'][number], one: ToSend) =>
  t(`effects.cuts.${what}`, {
    when: one.latest ? dayWords(one.latest) : '',
    days: one.longest_days ?? 0,
    most: one.most_memberships ?? 0,
  })
function sentTo(act: ToSend['act']): string {
  return props.toSend
    .filter((one) => one.act === act)
    .map((one) => {
      const name = known.value?.find((controller) => controller.id === one.controller)?.name ?? '?'
      let told = props.isCounted ? t('effects.records', { name }, one.records) : name
      if (one.is_full) told = t('effects.full', { name: told })
      if (one.in_place_of) told = t('effects.inPlaceOf', { name: told, who: one.in_place_of })
      else if (one.lets_somebody_go) told = t('effects.inPlaceOfSomebody', { name: told })
      if (one.is_without_templates) told = t('effects.withoutTemplates', { name: told })
      if (one.most_cards !== null)
        told = t('effects.tooManyCards', {
          name: told,
          most: one.most_cards,
          cards: one.left_out.map(cardWords).join(', '),
        })
      if (one.cut.length)
        told = t('effects.cut', { name: told, what: one.cut.map((what) => cutWords(what, one)).join(', ') })
      if (one.schedules_left_out.length) {
        const listed = one.schedules_left_out.map((id) => scheduleNames.value.get(id) ?? '?').join(', ')
        told = t('effects.withoutSchedules', { name: told, schedules: listed })
      }
      return one.is_silent ? t('effects.silent', { name: told }) : told
    })
    .join(', ')
}
const lines = computed(() => [
  { key: 'gained', sign: '+', ids: props.gained, word: t('effects.gained', props.gained.length) },
  { key: 'lost', sign: '−', ids: props.lost, word: t('effects.lost', props.lost.length) },
  { key: 'other', sign: '~', ids: props.otherHours, word: t('effects.other', props.otherHours.length) },
  { key: 'gained out', sign: '+', ids: props.waysOut?.gained ?? [], word: t('effects.gainedOut') },
  { key: 'lost out', sign: '−', ids: props.waysOut?.lost ?? [], word: t('effects.lostOut') },
  { key: 'other out', sign: '~', ids: props.waysOut?.other_hours ?? [], word: t('effects.otherOut') },
])
const changesNothing = computed(() => lines.value.every((line) => !line.ids.length))
</script>

<template>
  <ul class="lines">
    <template v-for="line in lines" :key="line.key">
      <li v-if="line.ids.length" :class="line.key">
        <span class="sign mono" aria-hidden="true">{{ line.sign }}</span>
        <span
          ><b>{{ line.word }}</b> {{ listed(line.ids) }}</span
        >
      </li>
    </template>
    <li v-if="changesNothing">
      <span class="sign mono" aria-hidden="true">=</span><span>{{ t('effects.none') }}</span>
    </li>
    <li v-for="act in ['put', 'remove'] as const" v-show="sentTo(act)" :key="act">
      <span class="sign mono" aria-hidden="true">→</span>
      <span>{{ t(act === 'put' ? 'effects.sends' : 'effects.removes', { names: sentTo(act) }) }}</span>
    </li>
    <li v-if="!toSend.length" class="quiet">
      <span class="sign mono" aria-hidden="true">→</span><span>{{ t('effects.sendsNone') }}</span>
    </li>
  </ul>
</template>

<style scoped>
.lines li {
  display: grid;
  grid-template-columns: 16px 1fr;
  padding: 1px 0;
  font-size: 13px;
}
.lost b,
.lost .sign {
  color: var(--p-cadrin-brick);
}
.gained .sign,
.gained b {
  color: var(--p-cadrin-teal);
}
</style>

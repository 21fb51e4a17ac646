<script setup lang="ts">
import { computed } from 'vue'

import { useSession } from '@/kit/state/session'
import { newCardholder } from '@/kit/state/use-read'
import { t } from '@/words'

import type { Explained } from './queries'

/** One card that explains what is in hand: what speaks for it and against, and what to do with it. */
const props = defineProps<{ explained: Explained; isFirst: boolean }>()
const mayEnrol = useSession().may('enrol')

const draft = computed(() => ({
  format_id: props.explained.format,
  facility_code: Number(props.explained.facility_code),
  card_number: Number(props.explained.card_number),
}))
</script>

<template>
  <li class="line" :class="{ first: isFirst }">
    <span class="mono number">
      <template v-if="explained.has_facility_code">{{ explained.facility_code }}-</template
      >{{ explained.card_number }}
    </span>
    <span>
      <b>{{ explained.format_name }}</b>
      <span class="quiet how">
        {{ explained.writings.map((one) => t(`cards.writings.${one}`)).join('; ') }}
        <template v-if="explained.turned">{{
          t(`cards.turned.${explained.turned as 'reversed' | 'inverted'}`)
        }}</template>
      </span>
    </span>
    <span class="signs">
      <span v-for="sign in explained.speaks_for" :key="sign" class="for"
        >+ {{ t(`cards.signs.${sign}`) }}</span
      >
      <span v-for="sign in explained.speaks_against" :key="sign" class="quiet"
        >− {{ t(`cards.signs.${sign}`) }}</span
      >
    </span>
    <span class="act">
      <RouterLink
        v-if="explained.holder_id"
        :to="{ name: 'cardholder', params: { id: explained.holder_id }, hash: '#cards' }"
      >
        {{ explained.holder_name }}
      </RouterLink>
      <span v-else-if="explained.status" class="quiet">{{
        t(`statuses.${explained.status as 'issued'}`)
      }}</span>
      <RouterLink v-else-if="mayEnrol" :to="newCardholder(draft)">{{ t('desk.enrolWith') }}</RouterLink>
    </span>
  </li>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 210px 250px 1fr auto;
  gap: 14px;
  padding: 7px 8px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.first {
  background: var(--p-cadrin-teal-paper);
}
.number {
  overflow-wrap: anywhere;
}
.how {
  display: block;
  font-size: 13px;
}
.signs {
  display: flex;
  flex-wrap: wrap;
  align-content: flex-start;
  gap: 0 14px;
}
.act {
  text-align: right;
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'

import { numberInAddress, textInAddress } from '@/kit/state/addressed'
import { house, schedules } from '@/api/queries'
import StateMark from '@/kit/controls/StateMark.vue'
import { policyWords } from '@/kit/said/factors'
import { t } from '@/words'

import ReaderEditor from './ReaderEditor.vue'

/** What every reader takes. */
defineProps<{ mayChange: boolean }>()
const { data: choices } = useQuery(house)
const chosen = numberInAddress('id')

const formatNames = (ids: number[]) =>
  ids.length
    ? (choices.value?.formats ?? [])
        .filter((one) => ids.includes(one.id))
        .map((one) => one.name)
        .join(', ')
    : t('readersSetup.allFormats')
const { data: allSchedules } = useQuery(schedules)
const scheduleName = (id: number) => allSchedules.value?.find((one) => one.id === id)?.name ?? ''
const sought = textInAddress('find')
const shown = computed(() => {
  const words = (sought.value ?? '').toLowerCase()
  return (choices.value?.readers ?? []).filter((one) =>
    `${one.name} ${doorOf(one.door_id)?.area_name ?? ''}`.toLowerCase().includes(words),
  )
})
const doorOf = (id: number | null) => choices.value?.doors.find((one) => one.id === id)
</script>

<template>
  <div class="row">
    <h2>{{ t('setup.parts.readers') }}</h2>
    <InputText
      v-model="sought"
      size="small"
      class="push"
      :placeholder="t('readersSetup.find')"
      :aria-label="t('readersSetup.find')"
    />
  </div>
  <p v-if="!choices" class="quiet">{{ t('common.loading') }}</p>
  <ul v-else>
    <li v-for="reader in shown" :key="reader.id" class="reader">
      <button
        type="button"
        class="line stacks"
        :disabled="!mayChange"
        :aria-expanded="chosen === reader.id"
        @click="chosen = chosen === reader.id ? null : reader.id"
      >
        <b>{{ reader.name }}</b>
        <span class="quiet">{{
          reader.is_desk ? t('readersSetup.desk') : (doorOf(reader.door_id)?.area_name ?? '')
        }}</span>
        <span class="quiet">{{
          reader.is_desk ? '' : t(`readersSetup.sides.${reader.is_way_out ? 'out' : 'in'}`)
        }}</span>
        <span
          >{{ policyWords(reader.policy)
          }}<template v-for="hours in reader.by_hours" :key="hours.schedule"
            >; {{ t('readersSetup.while') }} {{ scheduleName(hours.schedule) }}:
            {{ policyWords(hours.policy) }}</template
          ></span
        >
        <span class="quiet">{{ formatNames(reader.format_ids) }}</span>
        <span class="marks">
          <StateMark v-if="reader.has_keypad" shape="disc" :word="t('readersSetup.keypad')" />
          <StateMark v-if="reader.has_finger_scanner" shape="disc" :word="t('readersSetup.fingerScanner')" />
          <StateMark v-if="reader.has_face_reader" shape="disc" :word="t('readersSetup.faceReader')" />
          <StateMark v-if="reader.has_camera" shape="disc" :word="t('readersSetup.camera')" />
        </span>
      </button>
      <ReaderEditor
        v-if="chosen === reader.id"
        :reader="reader"
        :formats="choices.formats"
        @done="chosen = null"
      />
    </li>
  </ul>
  <p v-if="choices && !shown.length" class="quiet">{{ t('readersSetup.none') }}</p>
</template>

<style scoped>
.reader {
  border-top: 1px solid var(--p-cadrin-hairline);
}
.line {
  display: grid;
  grid-template-columns: 170px 110px 80px 1fr 110px 160px;
  gap: 12px;
  width: 100%;
  padding: 6px 4px;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
}
@media (width < 1240px) {
  .line {
    grid-template-columns: minmax(0, 1.4fr) minmax(0, 1fr) 64px minmax(0, 1.2fr) 80px minmax(0, 1.2fr);
  }
}
.marks {
  display: flex;
  flex-direction: column;
}
.line:not(:disabled) {
  cursor: pointer;
}
.line:not(:disabled):hover {
  background: var(--p-cadrin-teal-paper);
}
</style>

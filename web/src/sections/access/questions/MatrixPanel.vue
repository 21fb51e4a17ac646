<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import DayField from '@/kit/time/DayField.vue'
import Field from '@/kit/controls/Field.vue'
import { clockText } from '@/kit/time/hours'
import { t } from '@/words'

import AsNow from './AsNow.vue'
import KeptQuestions from './KeptQuestions.vue'
import { fitting, textOf } from './matrix'

/** Groups and doors, and in each field the hours of one day in which the one opens the other. */
const route = useRoute()
const router = useRouter()
const ofGroup = ref(textOf(route.query.groups))
const ofDoor = ref(textOf(route.query.doors))
const day = ref(textOf(route.query.day) || null)
const asked = computed(() => ({
  ...(ofGroup.value && { groups: ofGroup.value }),
  ...(ofDoor.value && { doors: ofDoor.value }),
  ...(day.value && { day: day.value }),
}))
watch(asked, (query) => router.replace({ query }))
watch(
  () => route.query,
  (query) => {
    if (route.params.id !== 'matrix') return
    ofGroup.value = textOf(query.groups)
    ofDoor.value = textOf(query.doors)
    day.value = textOf(query.day) || null
  },
)

const { data, isError } = useQuery({
  queryKey: keyOf('questions', 'matrix', day),
  queryFn: ({ signal }) =>
    unwrap(
      client.GET('/api/questions/matrix/', {
        params: { query: day.value ? { day: day.value } : {} },
        signal,
      }),
    ),
})
const shown = computed(() => data.value && fitting(data.value, ofGroup.value, ofDoor.value))
const percent = (minutes: number) => `${(100 * minutes) / (data.value?.minutes ?? 1440)}%`
function words(group: string, door: string, strip: number[][]): string {
  const whole = data.value?.minutes ?? 1440
  const hours = !strip.length
    ? t('questions.notThisDay')
    : strip.some(([start, end]) => start === 0 && end === whole)
      ? t('questions.allDay')
      : strip.map(([start = 0, end = 0]) => `${clockText(start)}–${clockText(end)}`).join(', ')
  return t('questions.opensFrom', { group, door, hours })
}
</script>

<template>
  <div class="panel">
    <h1>{{ t('questions.matrix') }}</h1>
    <div class="asked">
      <Field v-slot="{ id }" :label="t('questions.findGroup')">
        <InputText :id="id" v-model="ofGroup" size="small" :placeholder="t('questions.onlyWith')" />
      </Field>
      <Field v-slot="{ id }" :label="t('questions.findDoor')">
        <InputText :id="id" v-model="ofDoor" size="small" :placeholder="t('questions.onlyWith')" />
      </Field>
      <DayField v-model="day" :label="t('questions.day')" />
    </div>
    <KeptQuestions question="matrix" :asked="asked" may-keep />
    <AsNow :what="data?.as_now ?? []" />
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-else-if="shown">
      <h2 role="status">
        {{
          t('questions.matrixOf', {
            doors: t('questions.doorCount', shown.rows.length),
            groups: t('questions.groupCount', shown.groups.length),
          })
        }}
      </h2>
      <div
        v-if="shown.rows.length"
        class="scroll"
        tabindex="0"
        role="region"
        :aria-label="t('questions.matrix')"
      >
        <table>
          <thead>
            <tr>
              <td></td>
              <th v-for="one in shown.groups" :key="one.id" scope="col">
                <RouterLink :to="{ name: 'access', params: { part: 'groups', id: String(one.id) } }">{{
                  one.name
                }}</RouterLink>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shown.rows" :key="row.door.id">
              <th scope="row">
                <RouterLink :to="{ name: 'access', params: { part: 'doors', id: String(row.door.id) } }">{{
                  row.door.name
                }}</RouterLink>
                <span class="quiet">{{ row.door.area }}</span>
              </th>
              <td v-for="(strip, place) in row.strips" :key="place">
                <span
                  v-if="strip"
                  class="strip"
                  role="img"
                  :title="words(shown.groups[place]?.name ?? '', row.door.name, strip)"
                  :aria-label="words(shown.groups[place]?.name ?? '', row.door.name, strip)"
                >
                  <i
                    v-for="[start = 0, end = 0] in strip"
                    :key="start"
                    :style="{ left: percent(start), width: percent(end - start) }"
                  ></i>
                </span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
.panel {
  display: flex;
  flex-direction: column;
  height: 100%;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 12px;
  margin: 12px 0;
}
.scroll {
  flex: 1;
  min-height: 240px;
  margin-top: 8px;
  overflow: auto;
}
table {
  border-collapse: separate;
  border-spacing: 0;
}
thead td,
thead th,
tbody th {
  position: sticky;
  background: var(--p-cadrin-paper);
}
thead td,
thead th {
  top: 0;
  z-index: 1;
}
thead td,
tbody th {
  left: 0;
}
thead td {
  z-index: 2;
}
thead th {
  max-width: 34px;
  height: 116px;
  padding: 0 0 6px;
  vertical-align: bottom;
  font-weight: 500;
}
thead th a {
  display: block;
  max-height: 112px;
  margin: 0 auto;
  overflow: hidden;
  writing-mode: vertical-rl;
  transform: rotate(180deg);
  white-space: nowrap;
  text-overflow: ellipsis;
}
tbody th {
  max-width: 240px;
  padding: 2px 12px 2px 0;
  overflow: hidden;
  font-weight: 400;
  text-align: left;
  text-overflow: ellipsis;
  white-space: nowrap;
}
tbody th .quiet {
  margin-left: 6px;
  font-size: 12px;
}
tbody td {
  min-width: 46px;
  padding: 3px 3px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
tbody th {
  border-top: 1px solid var(--p-cadrin-hairline);
}
.strip {
  position: relative;
  display: block;
  width: 40px;
  height: 12px;
  background: var(--p-cadrin-night);
}
.strip i {
  position: absolute;
  top: 1px;
  bottom: 1px;
  background: var(--p-cadrin-lit);
}
</style>

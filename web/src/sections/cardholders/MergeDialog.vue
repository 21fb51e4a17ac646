<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import RadioButton from 'primevue/radiobutton'
import { computed, reactive, ref, shallowRef } from 'vue'

import { client, type FileDraft, type Problem, unwrap } from '@/api/client'
import { file, house } from '@/api/queries'
import { problemsIn } from '@/kit/state/problems'
import { t, wordsFor, wordsForField } from '@/words'

import { shownValue } from './changes'
import { combined, differing, isEmpty } from './merging'

/** Two records of one human being beside each other: choose what the one record shall have. */
const props = defineProps<{ id: number; otherId: number }>()
const emit = defineEmits<{ close: [] }>()

const queries = useQueryClient()
const { data: choices } = useQuery(house)
const { data: mine } = useQuery({ ...file(props.id), staleTime: 0 })
const { data: theirs } = useQuery({ ...file(props.otherId), staleTime: 0 })

const answered = reactive<Record<string, boolean>>({})
/** The other's is taken where it was chosen, or where this one has nothing. */
const isTaken = (field: keyof FileDraft) => answered[field] ?? isEmpty(mine.value?.[field])
const fields = computed(() => (mine.value && theirs.value ? differing(mine.value, theirs.value) : []))
const merged = computed(() =>
  mine.value && theirs.value
    ? combined(mine.value, theirs.value, new Set(fields.value.filter(isTaken)))
    : null,
)
const value = (of: FileDraft | undefined, field: keyof FileDraft) =>
  of && choices.value ? shownValue(field, of, choices.value) : ''

const nameOf = (of: FileDraft) => `${of.first_name} ${of.last_name}`.trim()

const isBusy = ref(false)
const problems = shallowRef<Problem[]>([])
async function merge() {
  if (!merged.value || !theirs.value) return
  isBusy.value = true
  problems.value = []
  try {
    await unwrap(
      client.POST('/api/cardholders/{id}/merge/', {
        params: { path: { id: props.id } },
        body: { ...merged.value, other: props.otherId, other_version: theirs.value.version ?? 0 },
      }),
    )
    await queries.invalidateQueries()
    location.reload()
  } catch (error) {
    problems.value = problemsIn(error)
  } finally {
    isBusy.value = false
  }
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('doubles.mergeTitle')"
    :style="{ width: '720px' }"
    @update:visible="emit('close')"
  >
    <p v-if="!mine || !theirs || !choices" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <p class="quiet">{{ t('doubles.mergeHint', { number: theirs.number }) }}</p>
      <table>
        <thead>
          <tr>
            <th scope="col">{{ t('doubles.field') }}</th>
            <th scope="col">
              {{ nameOf(mine) }} <span class="mono">{{ mine.number }}</span>
            </th>
            <th scope="col">
              {{ nameOf(theirs) }} <span class="mono">{{ theirs.number }}</span>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="field in fields" :key="field">
            <th scope="row">{{ wordsForField(field) }}</th>
            <td v-for="side in [false, true]" :key="`${side}`" :class="{ chosen: isTaken(field) === side }">
              <RadioButton
                :model-value="isTaken(field)"
                :value="side"
                :name="field"
                size="small"
                :input-id="`${field}-${side}`"
                @update:model-value="answered[field] = side"
              />
              <label :for="`${field}-${side}`">
                {{ value(side ? theirs : mine, field) || t('common.none') }}
              </label>
            </td>
          </tr>
        </tbody>
      </table>
      <p>
        {{
          t('doubles.both', {
            cards: t('doubles.cards', merged?.cards.length ?? 0),
            groups: t('doubles.groups', merged?.memberships.length ?? 0),
          })
        }}
      </p>
      <p v-for="problem in problems" :key="problem.code" class="denied" role="alert">
        {{ wordsFor(problem) }}
      </p>
    </template>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('close')"
      />
      <Button
        size="small"
        :label="t('doubles.mergeNow')"
        :loading="isBusy"
        :disabled="!merged"
        @click="merge"
      />
    </template>
  </Dialog>
</template>

<style scoped>
table {
  width: 100%;
  margin: 8px 0;
  border-collapse: collapse;
  text-align: left;
}
th,
td {
  padding: 4px 8px;
  border-bottom: 1px solid var(--p-cadrin-hairline);
  vertical-align: middle;
  overflow-wrap: anywhere;
}
tbody th {
  width: 130px;
  color: var(--p-cadrin-quiet);
  font-weight: 400;
}
td label {
  margin-left: 6px;
}
.chosen {
  background: var(--p-cadrin-teal-paper);
}
</style>

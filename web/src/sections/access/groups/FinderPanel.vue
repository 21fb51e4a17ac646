<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'

import { client, type Group, type House, type Schedule, unwrap } from '@/api/client'
import { useAct } from '@/kit/state/act'
import PersonField from '@/kit/controls/PersonField.vue'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import { doorsWords } from './at-doors'
import { foundGroups } from './finder'
import FoundGroups from './FoundGroups.vue'
import { asQuery, type Grant } from './granting'
import { keyOf } from '@/api/keys'
import GrantRows from './GrantRows.vue'

/** Which groups give it: doors with hours, or what a colleague has. A new one is the last thing offered. */
const props = defineProps<{ choices: House; groups: Group[]; schedules: Schedule[] }>()
const queries = useQueryClient()
const session = useSession()
const grants = ref<Grant[]>([])
const like = ref<number | null>(null)
/** Whom it is for: from their page, or found here. */
const asked = Number(useRoute().query.for)
const person = ref<number | null>(asked || null)
const isFromTheirPage = computed(() => Boolean(asked) && person.value === asked)

const isAsked = computed(() => grants.value.length > 0 || like.value !== null)
const wanted = computed(() =>
  isAsked.value || person.value !== null
    ? { grants: grants.value, like: like.value, cardholder: person.value }
    : null,
)
const { data, isError } = useQuery({ ...foundGroups(wanted), enabled: computed(() => wanted.value !== null) })
const found = computed(() => (isAsked.value ? data.value : undefined))
const nameOfTheirs = computed(() => data.value?.person ?? '')
const byId = computed(() => new Map(props.groups.map((one) => [one.id, one])))
const lines = computed(() =>
  (found.value?.groups ?? []).flatMap((one) => {
    const group = byId.value.get(one.group_id)
    return group ? [{ ...one, group }] : []
  }),
)
const exact = computed(() => lines.value.filter((one) => one.is_exact))
const others = computed(() => lines.value.filter((one) => !one.is_exact))
/** Several groups together; one alone stands among the others. */
const together = computed(() => {
  const ids = found.value?.cover ?? []
  return ids.length > 1 && !exact.value.length ? ids.flatMap((id) => byId.value.get(id) ?? []) : []
})

const { act, isBusy, elsewhere } = useAct()
const told = ref('')
async function putIn(groups: Group[]) {
  const params = { path: { id: person.value ?? 0 } }
  const body = { groups: groups.map((one) => one.id) }
  const done = await act(async () => {
    await unwrap(client.POST('/api/cardholders/{id}/groups/', { params, body }))
    return true
  })
  if (!done) return
  told.value = t('finder.putIn', {
    name: nameOfTheirs.value,
    groups: groups.map((one) => one.name).join(', '),
  })
  await Promise.all(
    [keyOf('groups'), keyOf('cardholders')].map((queryKey) => queries.invalidateQueries({ queryKey })),
  )
}
const mayPutIn = computed(() => person.value !== null && session.may('access'))
const isIn = (id: number) => found.value?.has_already.includes(id) ?? false
const shown = computed(() => ({
  doors: props.choices.doors,
  isIn,
  mayPutIn: mayPutIn.value,
  isBusy: isBusy.value,
}))
</script>

<template>
  <div>
    <h1>{{ t('finder.title') }}</h1>
    <div class="asked stacks-late">
      <PersonField v-model="like" :label="t('finder.like')" />
      <p v-if="isFromTheirPage" class="for">
        {{ t('finder.forWhom') }}
        <RouterLink :to="{ name: 'cardholder', params: { id: person! } }">{{ nameOfTheirs }}</RouterLink>
      </p>
      <PersonField v-else v-model="person" :label="t('finder.forWhom')" />
    </div>
    <GrantRows
      v-model="grants"
      :title="t('finder.wanted')"
      :doors="choices.doors"
      :schedules="schedules"
      may-edit
    />
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <template v-if="found">
      <p role="status" class="told">{{ told }} {{ elsewhere }}</p>
      <p v-if="found.lacking.length" class="lacking">
        {{ t('finder.lacking', { doors: doorsWords(found.lacking, choices.doors) }) }}
      </p>
      <FoundGroups
        :title="t('finder.exact')"
        :empty="t('finder.noExact')"
        :lines="exact"
        v-bind="shown"
        @put-in="(group) => putIn([group])"
      />
      <template v-if="together.length">
        <h2>{{ t('finder.together', together.length) }}</h2>
        <p v-if="!found.is_smallest" class="quiet">{{ t('finder.perhapsFewer') }}</p>
        <p class="names">
          <RouterLink
            v-for="one in together"
            :key="one.id"
            :to="{ name: 'access', params: { part: 'groups', id: one.id } }"
            >{{ one.name }}</RouterLink
          >
          <Button
            v-if="mayPutIn && together.some((one) => !isIn(one.id))"
            size="small"
            severity="secondary"
            :disabled="isBusy"
            :label="t('finder.putInAll')"
            @click="putIn(together)"
          />
        </p>
        <p v-if="found.cover_more.length" class="quiet">
          {{ t('finder.more', { doors: doorsWords(found.cover_more, choices.doors) }) }}
        </p>
      </template>
      <FoundGroups
        :title="t('finder.others')"
        :empty="t('finder.noOthers')"
        :lines="others"
        v-bind="shown"
        @put-in="(group) => putIn([group])"
      />
      <p v-if="session.may('groups') && grants.length && !exact.length" class="last">
        <RouterLink
          :to="{ name: 'access', params: { part: 'groups', id: 'new' }, query: { grants: asQuery(grants) } }"
          >{{ t('finder.makeNew') }}</RouterLink
        >
      </p>
    </template>
  </div>
</template>

<style scoped>
.asked {
  display: grid;
  grid-template-columns: 280px 280px;
  align-items: end;
  gap: 12px;
  margin-top: 12px;
}
.asked :deep(.p-autocomplete),
.asked :deep(.p-autocomplete-input) {
  width: 100%;
}
.for {
  padding-bottom: 6px;
}
h2 {
  margin: 16px 0 4px;
}
.names {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
}
.told:empty {
  display: none;
}
.lacking {
  color: var(--p-cadrin-brick);
}
.last {
  margin-top: 18px;
}
</style>

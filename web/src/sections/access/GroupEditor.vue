<script setup lang="ts">
import { Plus, X } from '@lucide/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import { client, type Group, type GroupDraft, type House, type Schedule, unwrap } from '@/api/client'
import CheckLine from '@/kit/CheckLine.vue'
import EditorFoot from '@/kit/EditorFoot.vue'
import EffectLines from '@/kit/EffectLines.vue'
import Field from '@/kit/Field.vue'
import FieldProblem from '@/kit/FieldProblem.vue'
import { useKeys } from '@/kit/keys'
import LitHours from '@/kit/LitHours.vue'
import { useSession } from '@/kit/session'
import { t } from '@/words'

import GroupPeople from './GroupPeople.vue'
import { litIn, plainWeek } from '@/kit/hours'
import { useSave } from '@/kit/save'

const props = defineProps<{ group: Group | undefined; choices: House; schedules: Schedule[] }>()
const emit = defineEmits<{ done: [id: number | null] }>()

const session = useSession()
const empty: GroupDraft = { version: 0, name: '', remarks: '', overrides: false, grants: [] }
function begin(): GroupDraft {
  const { version, name, remarks, overrides, grants } = props.group ?? empty
  return { version, name, remarks, overrides, grants: (grants ?? []).map((one) => ({ ...one })) }
}
const draft = ref(begin())
const base = JSON.stringify(begin())
const grants = computed(() => draft.value.grants ?? [])
const isDirty = computed(() => JSON.stringify(draft.value) !== base)

const asked = computed(() => JSON.stringify({ ...draft.value, id: props.group?.id ?? null }))
const weighed = refDebounced(asked, 150)
const { data: effects } = useQuery({
  queryKey: ['weigh-group', weighed],
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/preview/group/', {
        body: JSON.parse(weighed.value) as GroupDraft & { id: number | null },
        signal,
      }),
    ),
  enabled: session.may('groups'),
  placeholderData: keepPreviousData,
  gcTime: 0,
})
const { act, isBusy, at, elsewhere } = useSave(
  computed(() => (isDirty.value ? (effects.value?.problems ?? []) : [])),
)

async function save() {
  const id = props.group?.id
  const body = draft.value
  const saved = await act(() =>
    id === undefined
      ? unwrap(client.POST('/api/groups/', { body }))
      : unwrap(client.PUT('/api/groups/{id}/', { params: { path: { id } }, body })),
  )
  if (saved) emit('done', saved.id)
}
async function remove() {
  const id = props.group?.id
  if (id === undefined) return
  const gone = await act(async () => {
    await unwrap(client.DELETE('/api/groups/{id}/', { params: { path: { id } } }))
    return true
  })
  if (gone) emit('done', null)
}
useKeys({ 'Ctrl+S': () => void save() })

function addDoor() {
  const taken = new Set(grants.value.map((one) => one.door))
  const free = props.choices.doors.find((one) => !taken.has(one.id)) ?? props.choices.doors[0]
  const schedule = grants.value.at(-1)?.schedule ?? props.schedules[0]?.id
  if (free && schedule !== undefined) draft.value.grants = [...grants.value, { door: free.id, schedule }]
}
const hoursOf = (id: number) => props.schedules.find((one) => one.id === id)?.hours ?? []
const mayEdit = computed(() => session.may('groups'))
</script>

<template>
  <form class="group" @submit.prevent="save">
    <div class="fields">
      <Field v-slot="{ id, invalid, describedBy }" :label="t('access.name')" :problems="at('name')">
        <InputText
          :id="id"
          v-model="draft.name"
          size="small"
          :disabled="!mayEdit"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <Field v-slot="{ id }" :label="t('access.remarks')" :problems="at('remarks')">
        <InputText :id="id" v-model="draft.remarks" size="small" :disabled="!mayEdit" />
      </Field>
    </div>

    <CheckLine
      v-model="draft.overrides"
      class="overrides"
      :label="t('doing.overrides')"
      :disabled="!mayEdit"
    />

    <div class="row head">
      <h2>{{ t('access.grants') }}</h2>
      <Button v-if="mayEdit" size="small" severity="secondary" class="push" @click="addDoor">
        <Plus :size="14" aria-hidden="true" /> {{ t('access.addDoor') }}
      </Button>
    </div>
    <p v-if="!grants.length" class="quiet">{{ t('access.noGrants') }}</p>
    <ul>
      <li v-for="(grant, place) in grants" :key="place">
        <div class="grant">
          <Select
            v-model="grant.door"
            :options="choices.doors"
            option-label="name"
            option-value="id"
            size="small"
            filter
            :disabled="!mayEdit"
            :aria-label="`${t('access.door')} ${place + 1}`"
          />
          <Select
            v-model="grant.schedule"
            :options="schedules"
            option-label="name"
            option-value="id"
            size="small"
            :disabled="!mayEdit"
            :aria-label="`${t('access.schedule')} ${place + 1}`"
          />
          <LitHours :week="plainWeek" :lit="litIn(hoursOf(grant.schedule))" />
          <Button
            v-if="mayEdit"
            size="small"
            severity="secondary"
            :title="t('common.remove')"
            :aria-label="`${t('common.remove')}: ${t('access.door')} ${place + 1}`"
            @click="draft.grants = grants.filter((_, one) => one !== place)"
          >
            <X :size="14" aria-hidden="true" />
          </Button>
        </div>
        <FieldProblem
          :id="`grant-${place}`"
          :problems="[...at(`grants.${place}.door`), ...at(`grants.${place}.schedule`)]"
        />
      </li>
    </ul>

    <div v-if="mayEdit" class="foot">
      <div v-if="isDirty && effects" class="effects">
        <h3>{{ t('effects.people', effects.people) }}</h3>
        <EffectLines
          :doors="choices.doors"
          :gained="effects.gained"
          :lost="effects.lost"
          :other-hours="effects.other_hours"
          :to-send="effects.to_send"
          is-counted
        />
      </div>
      <EditorFoot
        :is-dirty="isDirty"
        :is-busy="isBusy"
        :elsewhere="elsewhere"
        :remove-label="group && t('access.remove')"
        @discard="draft = begin()"
        @remove="remove"
      />
    </div>
    <GroupPeople v-if="group" :id="group.id" />
  </form>
</template>

<style scoped>
.overrides {
  margin-top: 8px;
}
.fields {
  display: grid;
  grid-template-columns: 260px 1fr;
  gap: 12px;
}
.head {
  margin: 18px 0 6px;
}
.grant {
  display: grid;
  grid-template-columns: 190px 170px 1fr auto;
  align-items: center;
  gap: 10px;
  padding: 3px 0;
}
.foot {
  margin-top: 12px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.effects {
  margin-bottom: 10px;
}
</style>

<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import { useRoute } from 'vue-router'

import {
  client,
  type Group,
  type GroupDraft,
  type House,
  type Problem,
  type Schedule,
  unwrap,
} from '@/api/client'
import { keyOf } from '@/api/keys'
import CheckLine from '@/kit/controls/CheckLine.vue'
import EffectLines from '@/kit/controls/EffectLines.vue'
import Field from '@/kit/controls/Field.vue'
import { useKeys } from '@/kit/controls/keys'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import LookedAfterFields from '../reviews/LookedAfterFields.vue'
import { fromQuery } from './granting'
import GrantRows from './GrantRows.vue'
import GroupPeople from './GroupPeople.vue'
import MergeGroups from './MergeGroups.vue'
import RuleRows from './RuleRows.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'

const props = defineProps<{ group: Group | undefined; choices: House; schedules: Schedule[] }>()
const emit = defineEmits<{ done: [id: number | null] }>()

const session = useSession()
const empty = { version: 0, name: '', remarks: '', overrides: false, owner_id: null, review_days: null }
/** A new one begins with what was looked for in vain. */
const wanted = fromQuery(useRoute().query.grants)
function begin(): GroupDraft {
  const { version, name, remarks, overrides, owner_id, review_days } = props.group ?? empty
  const grants = (props.group?.grants ?? []).map((one) => ({ ...one }))
  const rules = (props.group?.rules ?? []).map((one) => ({ ...one }))
  return { version, name, remarks, overrides, owner_id, review_days, grants, rules }
}
const editor = useEditor('group', props.group?.id, begin, {
  start: props.group ? {} : { grants: wanted },
  live: (): Problem[] => (isDirty.value ? (effects.value?.problems ?? []) : []),
})
const { draft, act, at, isDirty } = editor
const grants = computed({ get: () => draft.grants ?? [], set: (rows) => (draft.grants = rows) })
const rules = computed({ get: () => draft.rules ?? [], set: (rows) => (draft.rules = rows) })
const reviewDays = computed({
  get: () => draft.review_days ?? null,
  set: (days) => (draft.review_days = days),
})

const asked = computed(() => JSON.stringify({ ...draft, id: props.group?.id ?? null }))
const weighed = refDebounced(asked, 150)
const { data: effects } = useQuery({
  queryKey: keyOf('weigh-group', weighed),
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

async function save() {
  const id = props.group?.id
  const saved = await act(() =>
    id === undefined
      ? unwrap(client.POST('/api/groups/', { body: draft }))
      : unwrap(client.PUT('/api/groups/{id}/', { params: { path: { id } }, body: draft })),
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

const mayEdit = computed(() => session.may('groups'))
const sameAs = computed(() =>
  props.choices.groups
    .filter((one) => effects.value?.same_as.includes(one.id))
    .map((one) => one.name)
    .join(', '),
)
</script>

<template>
  <form class="group" @submit.prevent="save">
    <div class="fields stacks">
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

    <div class="owning stacks">
      <LookedAfterFields
        v-model:owner="draft.owner_id"
        v-model:days="reviewDays"
        :operators="choices.operators"
        :looked="group && { kind: 'group', id: group.id }"
        :disabled="!mayEdit"
        :at="at"
      />
    </div>
    <CheckLine
      v-model="draft.overrides"
      class="overrides"
      :label="t('doing.overrides')"
      :disabled="!mayEdit"
    />

    <GrantRows
      v-model="grants"
      :title="t('access.grants')"
      :doors="choices.doors"
      :schedules="schedules"
      :may-edit="mayEdit"
      :problems-at="at"
    />

    <RuleRows v-model="rules" :choices="choices" :may-edit="mayEdit" :problems-at="at" />

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
        <p v-if="sameAs" class="same">{{ t('access.sameAs', { names: sameAs }) }}</p>
        <p v-if="effects.joining">{{ t('groupRules.joining', effects.joining) }}</p>
        <p v-if="effects.leaving">{{ t('groupRules.leaving', effects.leaving) }}</p>
      </div>
      <EditorFoot :editor="editor" :remove-label="group && t('access.remove')" @remove="remove" />
    </div>
    <GroupPeople v-if="group" :id="group.id" :name="group.name" :has-rules="group.rules.length > 0" />
    <MergeGroups v-if="group && mayEdit" :group="group" @done="emit('done', $event)" />
  </form>
</template>

<style scoped>
.overrides {
  margin-top: 8px;
}
.fields {
  display: grid;
  grid-template-columns: minmax(0, 260px) minmax(0, 1fr);
  gap: 12px;
}
.owning {
  display: grid;
  grid-template-columns: minmax(0, 260px) minmax(0, 190px) minmax(110px, auto);
  align-items: end;
  gap: 12px;
  margin-top: 10px;
}
.foot {
  margin-top: 12px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.same {
  padding: 4px 8px;
  background: var(--p-cadrin-amber-paper);
}
.effects {
  margin-bottom: 10px;
}
</style>

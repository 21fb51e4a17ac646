<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import { house } from '@/api/queries'
import Field from '@/kit/controls/Field.vue'
import MultiSelect from '@/kit/controls/multi-select'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { t } from '@/words'

type Department = components['schemas']['DepartmentWithPeople']

const props = defineProps<{
  department: Department | undefined
  departments: Department[]
  mayChange: boolean
}>()
const emit = defineEmits<{ done: [id: number | null] }>()

const { data: choices } = useQuery(house)

const editor = useEditor('department', props.department?.id, () => ({
  version: props.department?.version ?? 0,
  number: props.department?.number ?? '',
  name: props.department?.name ?? '',
  parent_id: props.department?.parent_id ?? null,
  is_retired: props.department?.is_retired ?? false,
  default_groups: props.department?.default_groups ?? [],
}))
const { draft, act, isBusy, at } = editor

/** A department with all below it: none of them can be above it. */
const within = computed(() => {
  const found = new Set(props.department ? [props.department.id] : [])
  for (const one of props.departments)
    if (one.parent_id !== null && found.has(one.parent_id)) found.add(one.id)
  return found
})
const others = computed(() => props.departments.filter((one) => !within.value.has(one.id)))
const moves = computed(() => props.department !== undefined && draft.parent_id !== props.department.parent_id)
const people = computed(() =>
  props.departments.filter((one) => within.value.has(one.id)).reduce((sum, one) => sum + one.people, 0),
)

async function save() {
  const id = props.department?.id
  const saved = await act(() =>
    unwrap(
      id === undefined
        ? client.POST('/api/departments/', { body: draft })
        : client.PUT('/api/departments/{id}/', { params: { path: { id } }, body: draft }),
    ),
  )
  if (saved) emit('done', saved.id)
}

const into = ref<number | null>(null)
async function merge() {
  const [id, target] = [props.department?.id, into.value]
  if (id === undefined || target === null) return
  const merged = await act(() =>
    unwrap(client.POST('/api/departments/{id}/merge/', { params: { path: { id } }, body: { into: target } })),
  )
  if (merged) emit('done', target)
}
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <h2>{{ department?.name ?? t('setup.newDepartment') }}</h2>
    <Field v-slot="{ id, invalid, describedBy }" :label="t('setup.number')" :problems="at('number')">
      <InputText
        :id="id"
        v-model="draft.number"
        size="small"
        class="mono short"
        :invalid="invalid"
        :aria-describedby="describedBy"
      />
    </Field>
    <Field v-slot="{ id, invalid, describedBy }" :label="t('setup.name')" :problems="at('name')">
      <InputText
        :id="id"
        v-model="draft.name"
        size="small"
        :invalid="invalid"
        :aria-describedby="describedBy"
      />
    </Field>
    <Field v-slot="{ labelId, invalid }" :label="t('setup.below')" :problems="at('parent_id')">
      <Select
        v-model="draft.parent_id"
        :options="others"
        option-label="name"
        option-value="id"
        size="small"
        filter
        show-clear
        :placeholder="t('setup.atTheTop')"
        :invalid="invalid"
        :aria-labelledby="labelId"
      />
    </Field>
    <p v-if="moves && people" class="note">{{ t('setup.moves', { count: people }) }}</p>
    <Field
      v-slot="{ labelId }"
      :label="t('setup.defaultGroups')"
      :problems="at('default_groups')"
      :hint="t('setup.defaultGroupsHint')"
    >
      <MultiSelect
        v-model="draft.default_groups"
        :options="choices?.groups ?? []"
        option-label="name"
        option-value="id"
        size="small"
        filter
        display="chip"
        :placeholder="t('common.none')"
        :aria-labelledby="labelId"
      />
    </Field>
    <Field v-slot="{ labelId }" :label="t('setup.retire')" :hint="t('setup.retireHint')">
      <ToggleSwitch v-model="draft.is_retired" :aria-labelledby="labelId" />
    </Field>
    <EditorFoot v-if="mayChange" :editor="editor" />
    <section v-if="mayChange && department" class="merge">
      <h3>{{ t('setup.merge') }}</h3>
      <p class="quiet">{{ t('setup.mergeHint', { name: department.name, count: department.people }) }}</p>
      <div class="row">
        <Field v-slot="{ labelId }" :label="t('setup.mergeInto')" :problems="at('into')">
          <Select
            v-model="into"
            :options="others"
            option-label="name"
            option-value="id"
            size="small"
            filter
            :placeholder="t('setup.chooseDepartment')"
            :aria-labelledby="labelId"
          />
        </Field>
        <Button
          size="small"
          severity="danger"
          variant="outlined"
          class="merge-button"
          :label="t('setup.mergeNow')"
          :disabled="isBusy || into === null"
          @click="merge"
        />
      </div>
    </section>
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 420px;
}
.short {
  width: 9em;
}
.note {
  padding: 5px 8px;
  background: var(--p-cadrin-amber-paper);
}
.merge {
  margin-top: 14px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.merge-button {
  align-self: flex-end;
}
</style>

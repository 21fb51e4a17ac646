<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Checkbox from 'primevue/checkbox'
import { computed, useId } from 'vue'

import { client, type Permission, unwrap } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import MayChange from '@/kit/controls/MayChange.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import { permissions, type Role } from './queries'

const props = defineProps<{ role: Role | undefined }>()
const emit = defineEmits<{ done: [id: number | null] }>()
const session = useSession()
const mayChange = session.may('operators')
const id = useId()

const { data: known } = useQuery(permissions)
/** What can be kept to a part of the house, and what reaches over all of it. */
const groups = computed(() =>
  ([false, true] as const).map((isHouseWide) => ({
    legend: isHouseWide ? ('houseWide' as const) : ('permissions' as const),
    of: (known.value ?? []).filter((one) => one.is_house_wide === isHouseWide).map((one) => one.name),
  })),
)
const editor = useEditor('role', props.role?.id, () => ({
  version: props.role?.version ?? 0,
  name: props.role?.name ?? '',
  permissions: [...(props.role?.permissions ?? (['see'] as Permission[]))],
}))
const { draft, act, at } = editor

async function save() {
  const which = props.role?.id
  const saved = await act(() =>
    unwrap(
      which === undefined
        ? client.POST('/api/roles/', { body: draft })
        : client.PUT('/api/roles/{id}/', { params: { path: { id: which } }, body: draft }),
    ),
  )
  if (!saved) return
  // it may have been one's own
  await session.load()
  emit('done', saved.id)
}
async function remove() {
  const which = props.role?.id
  if (which === undefined) return
  const removed = await act(async () => {
    await unwrap(client.DELETE('/api/roles/{id}/', { params: { path: { id: which } } }))
    return true
  })
  if (removed) emit('done', null)
}
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <MayChange :may="mayChange">
      <TextField v-model="draft.name" :label="t('setup.name')" :problems="at('name')" />
      <fieldset v-for="group in groups" :key="group.legend" :aria-describedby="`${id}-problem`">
        <legend>{{ t(`admin.${group.legend}`) }}</legend>
        <div v-for="one in group.of" :key="one" class="check">
          <Checkbox
            v-model="draft.permissions"
            class="box"
            :input-id="`${id}-${one}`"
            :value="one"
            size="small"
          />
          <label :for="`${id}-${one}`">{{ t(`permissions.${one}`) }}</label>
        </div>
        <p v-if="group.legend === 'houseWide'" class="quiet hint">{{ t('admin.houseWideHint') }}</p>
      </fieldset>
      <FieldProblem :id="`${id}-problem`" :problems="at('permissions')" />
    </MayChange>
    <EditorFoot
      v-if="mayChange"
      :editor="editor"
      :remove-label="role && t('admin.removeRole')"
      @remove="remove"
    />
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
fieldset {
  display: flex;
  flex-direction: column;
  gap: 5px;
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  padding: 0 0 4px;
  font-size: 12px;
  color: var(--p-cadrin-quiet);
}
.check {
  display: flex;
  align-items: flex-start;
  gap: 8px;
}
.box {
  margin-top: 3px;
}
.hint {
  font-size: 12px;
}
</style>

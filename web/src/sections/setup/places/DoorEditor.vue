<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { house } from '@/api/queries'
import Field from '@/kit/controls/Field.vue'
import MultiSelect from '@/kit/controls/multi-select'
import NumberField from '@/kit/controls/NumberField.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import LookedAfterFields from '@/sections/access/reviews/LookedAfterFields.vue'

import DoorDoes from './DoorDoes.vue'
import type { Door, DoorRules, Places } from './places'
import RemoveButton from './RemoveButton.vue'

/** A door between two areas, with the readers on both sides of it. */
const props = defineProps<{
  door: Door | undefined
  places: Places
  within: number | undefined
  mayChange: boolean
}>()
const emit = defineEmits<{ done: [id: number | null] }>()

const DEFAULT_SECONDS = { open: 5, extended: 20 }
const deciding = props.places.controllers.filter((one) => !one.is_desk)
/** A new door is most likely at the newest controller that has a reader to spare. */
const spare = props.places.readers.filter(
  (one) => one.door_id === null && deciding.some(({ id }) => id === one.controller_id),
)
const firstSpareAt = (controller: number | undefined) =>
  props.door ? undefined : spare.find((one) => one.controller_id === controller)
const likely = firstSpareAt(spare.at(-1)?.controller_id)
const readersAt = (isWayOut: boolean) =>
  props.places.readers
    .filter((one) => props.door && one.door_id === props.door.id && one.is_way_out === isWayOut)
    .map((one) => one.id)
const doesNow = (): DoorRules => ({
  held_seconds: props.door?.held_seconds ?? null,
  tells_forced: props.door?.tells_forced ?? false,
  unlocked_schedule_id: props.door?.unlocked_schedule_id ?? null,
  closed_schedule_id: props.door?.closed_schedule_id ?? null,
  first_person: props.door?.first_person ?? false,
  second_seconds: props.door?.second_seconds ?? null,
  consent_seconds: props.door?.consent_seconds ?? null,
  has_exit_button: props.door?.has_exit_button ?? false,
  interlock: [...(props.door?.interlock ?? [])],
})
const editor = useEditor('door', props.door?.id, () => ({
  version: props.door?.version ?? 0,
  name: props.door?.name ?? '',
  area_id: props.door?.area_id ?? props.within ?? props.places.areas[0]?.id ?? 0,
  from_area_id: props.door?.from_area_id ?? null,
  controller_id: props.door?.controller_id ?? likely?.controller_id ?? deciding[0]?.id ?? 0,
  readers_in: likely ? [likely.id] : readersAt(false),
  readers_out: readersAt(true),
  open_seconds: props.door?.open_seconds ?? DEFAULT_SECONDS.open,
  extended_open_seconds: props.door?.extended_open_seconds ?? DEFAULT_SECONDS.extended,
  owner_id: props.door?.owner_id ?? null,
  review_days: props.door?.review_days ?? null,
  does: doesNow(),
}))
const { draft, act, at } = editor
const { data: choices } = useQuery(house)
/** A controller can only tell of its own doors. */
const neighbours = computed(() =>
  props.places.doors.filter((one) => one.controller_id === draft.controller_id && one.id !== props.door?.id),
)

const sites = new Map(props.places.sites.map((one) => [one.id, one.name]))
const areas = props.places.areas.map((one) => ({
  value: one.id,
  word: sites.size > 1 ? `${one.name} (${sites.get(one.site_id)})` : one.name,
}))
const fromAreas = computed(() => areas.filter((one) => one.value !== draft.area_id))
const free = computed(() =>
  props.places.readers.filter(
    (one) =>
      one.controller_id === draft.controller_id && (one.door_id === null || one.door_id === props.door?.id),
  ),
)
const freeOn = (side: 'readers_in' | 'readers_out') => {
  const other = side === 'readers_in' ? draft.readers_out : draft.readers_in
  return free.value.filter((one) => !other.includes(one.id))
}
function toController(id: number) {
  if (id === draft.controller_id) return
  draft.controller_id = id
  const first = firstSpareAt(id)
  draft.readers_in = first ? [first.id] : []
  draft.readers_out = []
  draft.does.interlock = []
}
const controllerName = (id: number | undefined) => deciding.find((one) => one.id === id)?.name ?? ''
const isMoved = computed(() => props.door && draft.controller_id !== props.door.controller_id)

async function save() {
  const id = props.door?.id
  const { does, ...rest } = draft
  const body = { ...rest, ...does }
  const saved = await act(() =>
    unwrap(
      id === undefined
        ? client.POST('/api/doors/', { body })
        : client.PUT('/api/doors/{id}/', { params: { path: { id } }, body }),
    ),
  )
  if (saved) emit('done', saved.id)
}

const path = () => ({ params: { path: { id: props.door?.id ?? 0 } } })
const { data: loss } = useQuery({
  queryKey: keyOf('setup', 'places', 'loss', props.door?.id),
  queryFn: ({ signal }) => unwrap(client.GET('/api/doors/{id}/loss/', { ...path(), signal })),
  enabled: props.mayChange && !!props.door,
})
const question = computed(() => {
  const { groups = [], people = 0 } = loss.value ?? {}
  const told = { name: props.door?.name ?? '', groups: groups.join(', '), people }
  return t('places.removeDoorAsk', told, groups.length ? 2 : 1)
})
const remove = () => act(() => unwrap(client.DELETE('/api/doors/{id}/', path())).then(() => true))
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <h2>{{ door?.name ?? t('places.newDoor') }}</h2>
    <TextField v-model="draft.name" :label="t('places.name')" :problems="at('name')" />
    <div class="pair">
      <SelectField
        v-model="draft.from_area_id"
        :label="t('places.from')"
        :options="fromAreas"
        filter
        show-clear
        :placeholder="t('places.outside')"
        :problems="at('from_area_id')"
      />
      <SelectField
        v-model="draft.area_id"
        :label="t('places.area')"
        :options="areas"
        filter
        :problems="at('area_id')"
      />
    </div>
    <SelectField
      :model-value="draft.controller_id"
      :label="t('places.controller')"
      :options="deciding"
      option-label="name"
      option-value="id"
      :problems="at('controller_id')"
      @update:model-value="toController"
    />
    <p v-if="isMoved" class="note">
      {{
        t('places.moves', {
          name: controllerName(draft.controller_id),
          from: controllerName(door?.controller_id),
        })
      }}
    </p>
    <Field
      v-for="side in ['readers_in', 'readers_out'] as const"
      :key="side"
      v-slot="{ labelId }"
      :label="t(side === 'readers_in' ? 'places.readersIn' : 'places.readersOut')"
      :problems="at(side)"
      :hint="side === 'readers_in' ? t('places.readersHint') : undefined"
    >
      <MultiSelect
        v-model="draft[side]"
        :options="freeOn(side)"
        option-label="name"
        option-value="id"
        size="small"
        display="chip"
        :placeholder="t(side === 'readers_in' ? 'places.noReaders' : 'places.noWayOut')"
        :aria-labelledby="labelId"
      />
    </Field>
    <div class="pair">
      <NumberField
        v-model="draft.open_seconds"
        :label="t('places.openSeconds')"
        :problems="at('open_seconds')"
      />
      <NumberField
        v-model="draft.extended_open_seconds"
        :label="t('places.extendedSeconds')"
        :problems="at('extended_open_seconds')"
      />
    </div>
    <div class="pair">
      <LookedAfterFields
        v-model:owner="draft.owner_id"
        v-model:days="draft.review_days"
        :operators="choices?.operators ?? []"
        :looked="door && { kind: 'door', id: door.id }"
        :at="at"
      />
    </div>
    <DoorDoes v-model="draft.does" :others="neighbours" :at="at" />
    <EditorFoot v-if="mayChange" :editor="editor" />
    <RemoveButton
      v-if="mayChange && door && loss"
      :label="t('places.removeDoor')"
      :question="question"
      :remove="remove"
      @removed="emit('done', null)"
    />
  </form>
</template>

<style scoped>
.pair {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px;
}
.note {
  padding: 5px 8px;
  background: var(--p-cadrin-amber-paper);
}
</style>

<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import { momentWords, whenWords } from '@/kit/time/clock'
import Field from '@/kit/controls/Field.vue'
import MultiSelect from '@/kit/controls/multi-select'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import type { ReleaseGroup } from './doors'
import ReleaseReport from './ReleaseReport.vue'

/** Doors that are unlocked together: which, the emergency that is on, and those before. */
const props = defineProps<{ group: ReleaseGroup | undefined; doors: House['doors'] }>()
const emit = defineEmits<{ done: [id: number | null] }>()
const queries = useQueryClient()
const session = useSession()
const maySetUp = session.may('set_up')
const mayAct = session.may('doors')

const begin = () => ({
  version: props.group?.version ?? 0,
  name: props.group?.name ?? '',
  door_ids: [...(props.group?.door_ids ?? [])],
})
const editor = useEditor('release-group', props.group?.id, begin)
const { draft, act, at } = editor
const path = () => ({ params: { path: { id: props.group?.id ?? 0 } } })
const looked = () => queries.invalidateQueries({ queryKey: keyOf('doors') })

async function save() {
  const saved = await act(() =>
    unwrap(
      props.group
        ? client.PUT('/api/release-groups/{id}/', { ...path(), body: draft })
        : client.POST('/api/release-groups/', { body: draft }),
    ),
  )
  if (!saved) return
  await looked()
  emit('done', saved.id)
}
async function remove() {
  if (!(await act(() => unwrap(client.DELETE('/api/release-groups/{id}/', path())).then(() => true)))) return
  await looked()
  emit('done', null)
}

const on = computed(() => props.group?.releases.find((one) => one.ended_at === null))
const past = computed(() => props.group?.releases.filter((one) => one.ended_at !== null) ?? [])
const reason = ref('')
const releasing = useAct()
async function releaseOrEnd() {
  const body = { reason: reason.value }
  const isDone = await releasing.act(() =>
    on.value
      ? unwrap(client.POST('/api/release-groups/{id}/end/', { ...path(), body })).then(() => true)
      : unwrap(client.POST('/api/release-groups/{id}/release/', { ...path(), body })).then(() => true),
  )
  if (!isDone) return
  reason.value = ''
  await looked()
}
const reported = ref<number | null>(null)
</script>

<template>
  <div>
    <h1>{{ group?.name ?? t('doing.newGroup') }}</h1>
    <section v-if="group" class="now" :class="{ on }">
      <p v-if="on" role="alert">
        <b>{{ t('doing.isReleased', { name: on.begun_by, when: whenWords(on.at), reason: on.reason }) }}</b>
      </p>
      <form v-if="mayAct" class="act stacks-late" @submit.prevent="releaseOrEnd">
        <TextField v-model="reason" :label="t('doing.reason')" :problems="releasing.at('reason')" />
        <Button
          type="submit"
          size="small"
          :severity="on ? 'secondary' : 'danger'"
          :label="t(on ? 'doing.endRelease' : 'doing.release')"
          :loading="releasing.isBusy.value"
        />
        <span class="denied" role="alert">{{ releasing.elsewhere.value }}</span>
      </form>
      <ReleaseReport v-if="on" :id="on.id" :key="on.id" is-live />
    </section>

    <form @submit.prevent="save">
      <TextField
        v-model="draft.name"
        class="name"
        :label="t('access.name')"
        :problems="at('name')"
        :disabled="!maySetUp"
      />
      <Field v-slot="{ labelId }" :label="t('doing.groupDoors')" :problems="at('door_ids')">
        <MultiSelect
          v-model="draft.door_ids"
          :options="doors"
          option-label="name"
          option-value="id"
          size="small"
          display="chip"
          filter
          :disabled="!maySetUp"
          :aria-labelledby="labelId"
        />
      </Field>
      <EditorFoot
        v-if="maySetUp"
        :editor="editor"
        :remove-label="group ? t('doing.removeGroup') : undefined"
        :remove-question="t('places.removeAsk', { name: group?.name ?? '' })"
        @remove="remove"
      />
    </form>

    <template v-if="past.length">
      <h2>{{ t('doing.before') }}</h2>
      <ul>
        <li v-for="one in past" :key="one.id">
          <span class="mono">{{ momentWords(one.at) }}</span>
          {{ one.begun_by }}: {{ one.reason }};
          {{
            t('doing.endedBy', {
              name: one.ended_by,
              when: whenWords(one.ended_at ?? one.at),
              reason: one.ended_reason,
            })
          }}
          <button
            type="button"
            class="link"
            :aria-expanded="reported === one.id"
            @click="reported = reported === one.id ? null : one.id"
          >
            {{ t(reported === one.id ? 'doing.hideReport' : 'doing.report') }}
          </button>
          <ReleaseReport v-if="reported === one.id" :id="one.id" />
        </li>
      </ul>
    </template>
  </div>
</template>

<style scoped>
.now {
  margin: 10px 0 16px;
}
.on {
  padding: 8px 10px;
  background: var(--p-cadrin-amber-paper);
}
.act {
  display: grid;
  grid-template-columns: minmax(200px, 420px) auto 1fr;
  align-items: end;
  gap: 10px;
  margin-top: 6px;
}
.name {
  max-width: 420px;
  margin-bottom: 8px;
}
h2 {
  margin: 18px 0 6px;
}
li {
  padding: 3px 0;
}
</style>

<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { Bookmark, X } from '@lucide/vue'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import Popover from 'primevue/popover'
import { ref, shallowRef, useId } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import type { components } from '@/api/schema'
import Field from '@/kit/controls/Field.vue'
import { useSession } from '@/kit/state/session'
import { problemsIn } from '@/kit/state/problems'
import { t } from '@/words'

type View = components['schemas']['SavedListRow']

/** Lists kept under a name: take one, keep what is on the screen as another. */
const props = defineProps<{ now: Pick<View, 'filters' | 'columns' | 'sort'> }>()
const emit = defineEmits<{ take: [view: View] }>()

const session = useSession()
const queries = useQueryClient()
const key = keyOf('cardholders', 'views')
const { data } = useQuery({ queryKey: key, queryFn: () => unwrap(client.GET('/api/saved-lists/')) })

const popover = ref<InstanceType<typeof Popover>>()
const name = ref('')
const isShared = ref(false)
const sharedId = useId()
const problems = shallowRef<Problem[]>([])

function take(view: View) {
  emit('take', view)
  popover.value?.hide()
}
async function guard(act: () => Promise<unknown>) {
  problems.value = []
  try {
    await act()
  } catch (error) {
    problems.value = problemsIn(error)
  }
}
async function keep() {
  await guard(async () => {
    const body = { name: name.value, is_shared: isShared.value, ...props.now }
    queries.setQueryData(key, await unwrap(client.POST('/api/saved-lists/', { body })))
    name.value = ''
  })
}
async function forget(id: number) {
  await guard(() => unwrap(client.DELETE('/api/saved-lists/{id}/', { params: { path: { id } } })))
  await queries.invalidateQueries({ queryKey: key })
}
</script>

<template>
  <Button size="small" severity="secondary" variant="text" @click="popover?.toggle($event)">
    <Bookmark :size="14" aria-hidden="true" /> {{ t('views.title') }}
  </Button>
  <Popover ref="popover" :aria-label="t('views.title')">
    <div class="views">
      <p v-if="data && !data.length" class="quiet">{{ t('views.none') }}</p>
      <ul>
        <li v-for="view in data" :key="view.id">
          <button type="button" class="take" @click="take(view)">{{ view.name }}</button>
          <span v-if="view.is_shared" class="quiet">{{ t('views.shared') }}</span>
          <button
            v-if="!view.is_shared || session.may('set_up')"
            type="button"
            class="forget"
            :aria-label="t('views.forget', { name: view.name })"
            @click="forget(view.id)"
          >
            <X :size="13" aria-hidden="true" />
          </button>
        </li>
      </ul>
      <form @submit.prevent="keep">
        <Field v-slot="{ id, invalid, describedBy }" :label="t('views.keepAs')" :problems="problems">
          <InputText
            :id="id"
            v-model="name"
            size="small"
            :invalid="invalid"
            :aria-describedby="describedBy"
          />
        </Field>
        <div v-if="session.may('set_up')" class="row">
          <Checkbox v-model="isShared" :input-id="sharedId" binary size="small" />
          <label :for="sharedId">{{ t('views.share') }}</label>
        </div>
        <Button type="submit" size="small" :label="t('views.keep')" :disabled="!name.trim()" />
      </form>
    </div>
  </Popover>
</template>

<style scoped>
.views {
  min-width: 240px;
}
li {
  display: flex;
  align-items: center;
  gap: 8px;
}
.take {
  flex: 1;
  padding: 4px 0;
  text-align: left;
  color: var(--p-cadrin-teal);
}
.take,
.forget {
  border: 0;
  background: none;
  cursor: pointer;
}
.forget {
  color: var(--p-cadrin-quiet);
}
form {
  display: flex;
  flex-direction: column;
  align-items: flex-start;
  gap: 8px;
  margin-top: 10px;
  padding-top: 8px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>

<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type Group, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { groups as allGroups, house } from '@/api/queries'
import { useSave } from '@/kit/state/save'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

import { doorsWords } from './at-doors'

/** Make one group of two, with its consequences first. */
const props = defineProps<{ group: Group; other?: number }>()
const emit = defineEmits<{ done: [id: number] }>()
const { data: choices } = useQuery(house)
const { data: groups } = useQuery(allGroups)
const others = computed(() => (groups.value ?? []).filter((one) => one.id !== props.group.id))
const into = ref<number | null>(props.other ?? null)
const intoName = computed(() => others.value.find((one) => one.id === into.value)?.name ?? '')
const path = computed(() => ({ id: props.group.id }))
const { data: leads } = useQuery({
  queryKey: keyOf('groups', 'merge', path, into),
  queryFn: ({ signal }) =>
    unwrap(
      client.GET('/api/groups/{id}/merge/', {
        params: { path: path.value, query: { into: into.value ?? 0 } },
        signal,
      }),
    ),
  enabled: computed(() => into.value !== null),
  gcTime: 0,
})
const { act, isBusy, elsewhere } = useSave()
async function merge() {
  const to = into.value
  if (to === null) return
  const body = { into: to }
  const params = { path: path.value }
  if (await act(() => unwrap(client.POST('/api/groups/{id}/merge/', { params, body })))) emit('done', to)
}
</script>

<template>
  <section class="merge">
    <SelectField
      v-model="into"
      :label="t('finder.mergeInto')"
      :options="others"
      option-label="name"
      option-value="id"
      filter
      show-clear
    />
    <template v-if="into !== null && leads && choices">
      <ul>
        <li>{{ t('finder.moves', { count: leads.people, into: intoName }, leads.people) }}</li>
        <li v-if="leads.in_both">{{ t('finder.inBoth', leads.in_both) }}</li>
        <li v-if="leads.more.length">
          {{ t('finder.theyGain', { doors: doorsWords(leads.more, choices.doors) }) }}
        </li>
        <li v-if="leads.less.length">
          {{ t('finder.theyLose', { doors: doorsWords(leads.less, choices.doors) }) }}
        </li>
        <li v-if="!leads.more.length && !leads.less.length">{{ t('finder.sameDoors') }}</li>
        <li>{{ t('finder.isRemoved', { name: group.name }) }}</li>
        <li v-if="leads.apart.length" class="denied">{{ t('finder.apart', leads.apart.length) }}</li>
      </ul>
      <Button
        size="small"
        severity="danger"
        :label="t('finder.merge')"
        :loading="isBusy"
        :disabled="leads.apart.length > 0"
        @click="merge"
      />
      <span class="denied">{{ elsewhere }}</span>
    </template>
  </section>
</template>

<style scoped>
.merge {
  max-width: 560px;
  margin-top: 22px;
}
.merge > :first-child {
  max-width: 260px;
}
ul {
  margin: 8px 0;
  padding-left: 16px;
  list-style: disc;
}
</style>

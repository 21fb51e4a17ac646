<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type Consequences, type FileDraft, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { t } from '@/words'

import { proposalFor, withProposal } from './proposal'

/** The access groups that the new department proposes, with what they would open and close. */
const props = defineProps<{
  id: number | null
  base: FileDraft
  choices: House
  consequences: Consequences | undefined
}>()
const draft = defineModel<FileDraft>({ required: true })

const declined = ref<number | null>(null)
const proposal = computed(() =>
  draft.value.department === declined.value
    ? null
    : proposalFor(props.base, draft.value, props.choices.departments),
)
const department = computed(
  () => props.choices.departments.find((one) => one.id === draft.value.department)?.name ?? t('common.none'),
)
const named = (ids: number[]) =>
  ids.map((id) => props.choices.groups.find((one) => one.id === id)?.name ?? '?').join(', ')

const asked = computed(() =>
  proposal.value ? JSON.stringify({ ...withProposal(draft.value, proposal.value), id: props.id }) : '',
)
const { data: weighed } = useQuery({
  queryKey: keyOf('weigh', 'proposal', asked),
  queryFn: ({ signal }) =>
    unwrap(
      client.POST('/api/preview/', {
        body: JSON.parse(asked.value) as FileDraft & { id: number | null },
        signal,
      }),
    ),
  enabled: computed(() => asked.value !== ''),
  gcTime: 0,
})
const litDoors = (of: Consequences | undefined) =>
  new Set(of?.reach.filter((one) => one.open_spans.length).map((one) => one.door))
const effect = computed(() => {
  const [now, then] = [litDoors(props.consequences), litDoors(weighed.value)]
  return {
    opens: [...then].filter((door) => !now.has(door)).length,
    closes: [...now].filter((door) => !then.has(door)).length,
  }
})

const effectWords = computed(() => {
  const opens = t('file.proposalOpens', { count: effect.value.opens })
  return effect.value.closes
    ? `(${opens}, ${t('file.proposalCloses', { count: effect.value.closes })})`
    : `(${opens})`
})

function takeOver() {
  if (proposal.value) draft.value = withProposal(draft.value, proposal.value)
}
</script>

<template>
  <div v-if="proposal" class="notice" role="status">
    <p>
      {{ t('file.proposed', { department }) }} <b>{{ named(proposal.joins) || t('common.none') }}</b>
      <span v-if="proposal.leaves.length">
        {{ t('file.proposedLeaves') }} <b>{{ named(proposal.leaves) }}</b>
      </span>
      <span v-if="weighed && (effect.opens || effect.closes)" class="quiet">{{ effectWords }}</span>
    </p>
    <Button size="small" :label="t('file.takeProposal')" @click="takeOver" />
    <Button
      size="small"
      severity="secondary"
      variant="text"
      :label="t('file.leaveProposal')"
      @click="declined = draft.department ?? null"
    />
  </div>
</template>

<style scoped>
.notice span::before {
  content: ' ';
}
</style>

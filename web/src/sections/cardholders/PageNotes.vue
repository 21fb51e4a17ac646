<script setup lang="ts">
import { whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import DoublesNote from './DoublesNote.vue'
import type { useFileDraft } from './draft'
import OtherDrafts from './OtherDrafts.vue'
import { useOthers } from './presence'
import SharedNote from './SharedNote.vue'

/** What should be known before anything is typed: drafts, who else is here, and who may be the same person. */
const props = defineProps<{
  id: number | null
  file: ReturnType<typeof useFileDraft>
  draftKey: string
  isErased: boolean
  doubles: InstanceType<typeof DoublesNote>['$props']['doubles']
}>()
const emit = defineEmits<{ notTheSame: [] }>()

const { isDirty, keptAt, shared } = props.file
const others = useOthers(props.id)
const mayChange = useSession().may(props.id === null ? 'enrol' : 'edit')
</script>

<template>
  <p v-if="keptAt && isDirty" class="kept" role="status">
    {{ t('file.kept', { when: whenWords(keptAt) }) }}
  </p>
  <SharedNote v-if="shared" :shared="shared" @begin-empty="file.discard()" />
  <OtherDrafts v-if="id === null && !isDirty && !shared" :but="draftKey" />
  <p v-if="others.length" class="kept" role="status">
    {{ t('people.others', { names: others.join(', ') }, others.length) }}
  </p>
  <p v-if="isErased" class="kept" role="status">{{ t('people.erased') }}</p>
  <DoublesNote v-if="doubles.length" :id="id" :doubles="doubles" @go-on="emit('notTheSame')" />
  <p v-if="!mayChange" class="kept" role="status">{{ t('file.onlyLook') }}</p>
</template>

<style scoped>
.kept {
  padding: 6px 10px;
  margin-bottom: 10px;
  border-left: 3px solid var(--p-cadrin-lit);
  background: var(--p-cadrin-amber-paper);
}
</style>

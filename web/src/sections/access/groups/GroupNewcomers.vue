<script setup lang="ts">
import Button from 'primevue/button'
import Textarea from 'primevue/textarea'
import { computed, reactive, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { useAct } from '@/kit/state/act'
import Field from '@/kit/controls/Field.vue'
import PersonField from '@/kit/controls/PersonField.vue'
import SpanFields from '@/kit/time/SpanFields.vue'
import { t } from '@/words'

/** Put people into a group: one who is found, or many by their numbers as they were pasted; for a time, or for good. */
const props = defineProps<{ id: number }>()
const emit = defineEmits<{ added: [] }>()
const begin = () => ({
  person: null as number | null,
  numbers: '',
  activation_at: null as string | null,
  expiry_at: null as string | null,
})
const draft = reactive(begin())
const begun = ref(0)
const said = ref('')
const { act, isBusy, at, elsewhere } = useAct()
const numbers = computed(() => draft.numbers.split(/[\s,;]+/).filter(Boolean))
const isEmpty = computed(() => draft.person === null && !numbers.value.length)

async function add() {
  const { activation_at, expiry_at, person } = draft
  const body = {
    cardholders: person === null ? [] : [person],
    numbers: numbers.value,
    activation_at,
    expiry_at,
  }
  const path = { params: { path: { id: props.id } } }
  const found = await act(() => unwrap(client.POST('/api/groups/{id}/members/', { ...path, body })))
  if (!found) return
  const words = [t('access.added', found.added)]
  if (found.there_before) words.push(t('access.thereBefore', found.there_before))
  if (found.unknown.length) words.push(t('access.unknownNumbers', { numbers: found.unknown.join(', ') }))
  said.value = words.join(' ')
  Object.assign(draft, begin(), { numbers: found.unknown.join(' ') })
  begun.value += 1
  emit('added')
}
</script>

<template>
  <div class="newcomers stacks-late">
    <PersonField :key="begun" v-model="draft.person" :label="t('access.addPerson')" />
    <Field v-slot="{ id: field }" :label="t('access.addNumbers')">
      <Textarea :id="field" v-model="draft.numbers" rows="1" size="small" auto-resize class="mono" />
    </Field>
    <SpanFields v-model:from="draft.activation_at" v-model:until="draft.expiry_at" :at="at" />
    <Button
      type="button"
      size="small"
      severity="secondary"
      :label="t('access.putIn')"
      :disabled="isEmpty"
      :loading="isBusy"
      @click="add"
    />
    <p class="said" role="status">{{ said }} {{ elsewhere }}</p>
  </div>
</template>

<style scoped>
.newcomers {
  display: grid;
  grid-template-columns: 200px 1fr auto auto auto;
  align-items: end;
  gap: 4px 10px;
  margin-top: 8px;
}
@media (width < 1240px) {
  .newcomers {
    grid-template-columns: 200px minmax(0, 1fr);
  }
}
.said {
  grid-column: 1 / -1;
}
</style>

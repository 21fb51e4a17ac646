<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import Dialog from 'primevue/dialog'
import { computed, ref } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAsking } from '@/kit/state/asking'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { biometricRules } from '@/sections/setup/queries'
import { language, t } from '@/words'

import { formOf, type NewConsent, type Taken } from './fingers'
import SignaturePad from './SignaturePad.vue'

/** Taking consent with the person standing there: what is agreed to, in their language, and how they say so. */
const props = defineProps<{ id: number | null; offered: readonly Taken[] }>()
const emit = defineEmits<{ given: [consent: NewConsent]; close: [] }>()

const queries = useQueryClient()
const { data: rules } = useQuery(biometricRules)
const { asking, isBusy, refused } = useAsking()
const HOWS = ['signature', 'tick', 'paper', 'mail'] as const
const hows = HOWS.map((value) => ({ value, word: t(`consents.hows.${value}`) }))
const how = ref<NewConsent['how']>('signature')
const theirLanguage = ref<string>(language.value)
const languages = computed(() =>
  Object.keys(rules.value?.wording ?? {}).map((value) => ({
    value,
    word: t(`languages.${value as 'en' | 'de'}`),
  })),
)
const proof = ref<Blob | null>(null)
const fileName = ref('')
const agrees = ref(false)
const factors = ref<Taken[]>([...props.offered])
const isReady = computed(
  () => factors.value.length > 0 && (how.value === 'tick' ? agrees.value : proof.value !== null),
)

function chosen(event: Event) {
  const file = (event.target as HTMLInputElement).files?.[0] ?? null
  proof.value = file
  fileName.value = file?.name ?? ''
}
function take(to: NewConsent['how']) {
  how.value = to
  proof.value = null
  fileName.value = ''
}
const isAsked = ref(false)
async function ask() {
  const { id } = props
  if (id === null) return
  const done = await asking(async () => {
    await unwrap(client.POST('/api/cardholders/{id}/consents/ask/', { params: { path: { id } } }))
    return true
  })
  if (!done) return
  isAsked.value = true
  await queries.invalidateQueries({ queryKey: keyOf('cardholders', 'letters') })
}
async function give() {
  const file = how.value === 'tick' ? null : proof.value
  const token = await asking(async () =>
    file
      ? (
          await unwrap(
            client.POST('/api/consents/proofs/', { body: {} as never, bodySerializer: () => formOf(file) }),
          )
        ).token
      : '',
  )
  if (token === undefined) return
  emit('given', { factors: factors.value, how: how.value, language: theirLanguage.value, proof: token })
}
</script>

<template>
  <Dialog
    visible
    modal
    :header="t('consents.take')"
    :style="{ width: '600px' }"
    @update:visible="emit('close')"
  >
    <form id="consent" class="form" @submit.prevent="give">
      <SelectField
        v-model="theirLanguage"
        class="choice"
        :label="t('consents.language')"
        :options="languages"
      />
      <blockquote :lang="theirLanguage">{{ rules?.wording[theirLanguage] }}</blockquote>
      <div v-if="offered.length > 1" class="row" role="group" :aria-label="t('consents.forWhat')">
        <span class="quiet">{{ t('consents.forWhat') }}</span>
        <label v-for="factor in offered" :key="factor" class="row" :for="`consent-${factor}`">
          <Checkbox v-model="factors" :value="factor" :input-id="`consent-${factor}`" />
          {{ t(`consents.factors.${factor}`) }}
        </label>
      </div>
      <SelectField
        :model-value="how"
        class="choice"
        :label="t('consents.how')"
        :options="hows"
        @update:model-value="take"
      />
      <SignaturePad v-if="how === 'signature'" @drawn="proof = $event" />
      <label v-else-if="how === 'tick'" class="row" for="consent-agrees">
        <Checkbox v-model="agrees" binary input-id="consent-agrees" />
        {{ t('consents.agrees') }}
      </label>
      <div v-else class="file">
        <p v-if="how === 'mail' && isAsked" role="status">{{ t('consents.asked') }}</p>
        <p v-else-if="how === 'mail'" class="row">
          <Button
            size="small"
            severity="secondary"
            :label="t('consents.ask')"
            :loading="isBusy"
            :disabled="id === null"
            @click="ask"
          />
          <span class="quiet">{{ t(id === null ? 'consents.askSaved' : 'consents.askHint') }}</span>
        </p>
        <label for="consent-scan">{{ t(how === 'mail' ? 'consents.answer' : 'consents.scan') }}</label>
        <input
          id="consent-scan"
          :key="how"
          type="file"
          :accept="`${how === 'mail' ? '.eml,message/rfc822,' : ''}image/png,image/jpeg,application/pdf`"
          @change="chosen"
        />
      </div>
      <FieldProblem id="consent-refused" :problems="refused" />
    </form>
    <template #footer>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="emit('close')"
      />
      <Button
        size="small"
        type="submit"
        form="consent"
        :label="t('consents.take')"
        :loading="isBusy"
        :disabled="!isReady"
      />
    </template>
  </Dialog>
</template>

<style scoped>
.form {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.file input {
  font: inherit;
}
.file {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.choice {
  max-width: 240px;
}
blockquote {
  max-height: 180px;
  padding: 8px 12px;
  margin: 0;
  border-left: 3px solid var(--p-cadrin-teal);
  background: var(--p-cadrin-teal-paper);
  overflow: auto;
  white-space: pre-line;
}
</style>

<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputText from 'primevue/inputtext'
import { ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { client, type FileDraft, type Problem, type SavedFile, unwrap } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import { useSession } from '@/kit/state/session'
import { problemsIn } from '@/kit/state/problems'
import { t, wordsFor } from '@/words'

/** Erase somebody for good; it says what that means, and asks why. */
const props = defineProps<{ id: number; file: SavedFile | FileDraft }>()
const router = useRouter()
const queries = useQueryClient()
const mayErase = useSession().may('erase')

const isAsking = ref(false)
const reason = ref('')
const problems = shallowRef<Problem[]>([])
const name = () => ('display_name' in props.file ? props.file.display_name : props.file.number) ?? ''

async function erase() {
  try {
    await unwrap(
      client.POST('/api/cardholders/{id}/erase/', {
        params: { path: { id: props.id } },
        body: { version: props.file.version ?? 0, reason: reason.value },
      }),
    )
    await queries.invalidateQueries()
    await router.push({ name: 'cardholders' })
  } catch (error) {
    problems.value = problemsIn(error)
  }
}
</script>

<template>
  <section v-if="mayErase" class="part">
    <Button
      size="small"
      severity="danger"
      variant="text"
      :label="t('people.erase')"
      @click="isAsking = true"
    />
    <Dialog
      v-if="isAsking"
      visible
      modal
      :header="t('people.eraseTitle', { name: name() })"
      :style="{ width: '480px' }"
      @update:visible="isAsking = false"
    >
      <p>{{ t('people.eraseHint', { number: file.number }) }}</p>
      <Field
        v-slot="{ id: fieldId, invalid, describedBy }"
        :label="t('people.eraseReason')"
        :problems="problems.filter((one) => one.field === 'reason')"
      >
        <InputText
          :id="fieldId"
          v-model="reason"
          size="small"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <p class="denied">
        {{
          problems
            .filter((one) => one.field !== 'reason')
            .map(wordsFor)
            .join(' ')
        }}
      </p>
      <template #footer>
        <Button
          size="small"
          severity="secondary"
          variant="text"
          :label="t('common.cancel')"
          @click="isAsking = false"
        />
        <Button size="small" severity="danger" :label="t('people.erase')" @click="erase" />
      </template>
    </Dialog>
  </section>
</template>

<style scoped>
.part {
  margin-top: 14px;
  padding-top: 8px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
p {
  margin-bottom: 8px;
}
</style>

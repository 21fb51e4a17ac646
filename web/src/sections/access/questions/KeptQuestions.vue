<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { Bookmark, X } from '@lucide/vue'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { nextTick, ref, shallowRef, useTemplateRef } from 'vue'

import { client, type Problem, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import Field from '@/kit/controls/Field.vue'
import { problemsIn } from '@/kit/state/problems'
import { t } from '@/words'

import type { Question } from './asked'

/** The questions that an operator keeps: one is asked again by a click, this one is kept under a name. */
const props = defineProps<{ question: Question; asked: Record<string, string>; mayKeep: boolean }>()

const queries = useQueryClient()
const key = keyOf('questions', 'saved')
const { data } = useQuery({ queryKey: key, queryFn: () => unwrap(client.GET('/api/questions/saved/')) })
const isNaming = ref(false)
const name = ref('')
const problems = shallowRef<Problem[]>([])
const form = useTemplateRef<HTMLFormElement>('form')

async function beginNaming() {
  isNaming.value = true
  await nextTick()
  form.value?.querySelector('input')?.focus()
}

async function keep() {
  problems.value = []
  try {
    const body = { name: name.value, question: props.question, asked: props.asked }
    await unwrap(client.POST('/api/questions/saved/', { body }))
    isNaming.value = false
    name.value = ''
  } catch (error) {
    problems.value = problemsIn(error)
  }
  await queries.invalidateQueries({ queryKey: key })
}
async function forget(id: number) {
  await client.DELETE('/api/questions/saved/{id}/', { params: { path: { id } } })
  await queries.invalidateQueries({ queryKey: key })
}
</script>

<template>
  <div class="row kept">
    <template v-if="data?.length">
      <span class="quiet">{{ t('questions.kept') }}</span>
      <span v-for="one in data" :key="one.id" class="one">
        <RouterLink
          :to="{ name: 'access', params: { part: 'questions', id: one.question }, query: one.asked }"
          >{{ one.name }}</RouterLink
        >
        <button type="button" :aria-label="t('questions.forget', { name: one.name })" @click="forget(one.id)">
          <X :size="13" aria-hidden="true" />
        </button>
      </span>
    </template>
    <form v-if="isNaming" ref="form" class="row" @submit.prevent="keep">
      <Field v-slot="{ id, describedBy, invalid }" :label="t('questions.saveAs')" :problems="problems">
        <InputText
          :id="id"
          v-model="name"
          size="small"
          :maxlength="60"
          :invalid="invalid"
          :aria-describedby="describedBy"
          @keydown.esc="isNaming = false"
        />
      </Field>
      <Button type="submit" size="small" :label="t('common.save')" />
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('common.cancel')"
        @click="isNaming = false"
      />
    </form>
    <Button v-else-if="mayKeep" size="small" severity="secondary" variant="text" @click="beginNaming">
      <Bookmark :size="14" aria-hidden="true" /> {{ t('questions.save') }}
    </Button>
  </div>
</template>

<style scoped>
.kept {
  flex-wrap: wrap;
  align-items: end;
  margin-bottom: 8px;
}
.one {
  display: inline-flex;
  align-items: center;
  gap: 2px;
}
.one button {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  width: 24px;
  height: 24px;
  border: 0;
  background: none;
  color: var(--p-cadrin-quiet);
  cursor: pointer;
}
</style>

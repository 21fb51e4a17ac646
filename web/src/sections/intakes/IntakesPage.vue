<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import Textarea from 'primevue/textarea'
import { ref, useId } from 'vue'

import { client, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { whenWords } from '@/kit/time/clock'
import StateMark, { type Shape } from '@/kit/controls/StateMark.vue'
import { numberWords, t } from '@/words'

import { useTakingIn } from './drop'
import type { IntakeInShort } from './intake'

/** Lists that were brought in, and where one is dropped. */
const { data } = useQuery({
  queryKey: keyOf('intakes', 'all'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/intakes/', { signal })),
  refetchInterval: 5_000,
})
const { data: samples } = useQuery({
  queryKey: keyOf('intakes', 'samples'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/intake-samples/', { signal })),
  staleTime: Infinity,
})
const { takeIn, isTaking } = useTakingIn()

const chooser = ref<HTMLInputElement>()
const fileId = useId()
function chosen() {
  void takeIn([...(chooser.value?.files ?? [])])
  if (chooser.value) chooser.value.value = ''
}
const isPasting = ref(false)
const pasted = ref('')
const pasteId = useId()
function takePasted() {
  void takeIn([new File([pasted.value], t('intake.pastedName'), { type: 'text/plain' })])
}

const SHAPES: Record<IntakeInShort['state'], Shape> = {
  reading: 'ring',
  open: 'ring',
  applying: 'half',
  stopping: 'half',
  applied: 'disc',
  undoing: 'half',
  undone: 'dash',
  discarded: 'dash',
}
const outcome = (one: IntakeInShort) => t('intake.inShort', { new: one.new, changed: one.changed })
</script>

<template>
  <div class="page">
    <div class="page-head">
      <h1>{{ t('intake.title') }}</h1>
      <RouterLink class="push" :to="{ name: 'cardholders' }">{{ t('list.title') }}</RouterLink>
    </div>
    <div class="top stacks">
      <section class="drop" :aria-label="t('intake.dropHere')">
        <p>
          <b>{{ t('intake.dropHere') }}</b>
        </p>
        <p class="quiet">{{ t('intake.kindsTaken') }}</p>
        <div class="row">
          <input
            :id="fileId"
            ref="chooser"
            class="unseen"
            type="file"
            tabindex="-1"
            :aria-label="t('intake.choose')"
            @change="chosen"
          />
          <Button size="small" :label="t('intake.choose')" :loading="isTaking" @click="chooser?.click()" />
          <Button
            size="small"
            severity="secondary"
            :label="t('intake.paste')"
            :aria-expanded="isPasting"
            @click="isPasting = !isPasting"
          />
        </div>
        <div v-if="isPasting" class="paste">
          <label :for="pasteId" class="quiet">{{ t('intake.pasteHint') }}</label>
          <Textarea :id="pasteId" v-model="pasted" rows="6" class="mono" />
          <Button
            size="small"
            :label="t('intake.takePasted')"
            :disabled="!pasted.trim()"
            :loading="isTaking"
            @click="takePasted"
          />
        </div>
      </section>
      <section v-if="samples?.length" class="samples">
        <h2>{{ t('intake.samples') }}</h2>
        <ul>
          <li v-for="one in samples" :key="one.name">
            <a :href="`/api/intake-samples/${one.name}/`" download>{{ one.name }}</a>
            <span class="quiet">{{ t(`intake.sampleAbout.${one.about as 'messy'}`) }}</span>
          </li>
        </ul>
      </section>
    </div>
    <h2>{{ t('intake.latest') }}</h2>
    <p v-if="data && !data.length" class="quiet">{{ t('intake.none') }}</p>
    <table v-else-if="data" class="list">
      <thead>
        <tr>
          <th>{{ t('intake.file') }}</th>
          <th>{{ t('intake.state') }}</th>
          <th class="number">{{ t('intake.rows') }}</th>
          <th>{{ t('intake.outcome') }}</th>
          <th>{{ t('intake.broughtBy') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data" :key="one.id">
          <td>
            <RouterLink class="one-line name" :to="{ name: 'intake', params: { id: one.id } }">{{
              one.name
            }}</RouterLink>
          </td>
          <td><StateMark :shape="SHAPES[one.state]" :word="t(`intake.states.${one.state}`)" /></td>
          <td class="number">{{ numberWords(one.rows) }}</td>
          <td>
            {{ outcome(one) }}
            <span v-if="one.faulty && one.state === 'open'" class="denied">{{
              t('intake.faultyRows', one.faulty)
            }}</span>
            <span v-if="one.left" class="quiet">{{
              t('intake.leftBehind', { count: one.left }, one.left)
            }}</span>
          </td>
          <td class="quiet">{{ one.by }}, {{ whenWords(one.at) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.top {
  display: grid;
  grid-template-columns: 1fr 380px;
  gap: 24px;
  margin-bottom: 20px;
}
.drop {
  display: grid;
  align-content: start;
  gap: 6px;
  padding: 22px 20px;
  border: 1px dashed var(--p-cadrin-quiet);
  border-radius: 4px;
}
.paste {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.paste :deep(textarea) {
  width: 100%;
}
.samples li {
  padding: 4px 0;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.samples span {
  display: block;
  font-size: 13px;
}
.list {
  width: 100%;
  border-collapse: collapse;
}
th {
  padding: 4px 10px 4px 0;
  font-size: 13px;
  font-weight: 600;
  text-align: left;
}
td {
  padding: 6px 10px 6px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.number {
  text-align: right;
}
.name {
  display: block;
  max-width: 320px;
}
</style>

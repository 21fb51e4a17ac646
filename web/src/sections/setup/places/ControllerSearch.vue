<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, reactive } from 'vue'

import { client, unwrap } from '@/api/client'
import { useSave } from '@/kit/state/save'
import StateMark from '@/kit/controls/StateMark.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t, wordsFor } from '@/words'
import { problemsIn } from '@/kit/state/problems'

import { search } from '../queries'

/** Controllers that answer, and taking one of them in. */
const emit = defineEmits<{ done: [id: number] }>()
const { act, isBusy, at, elsewhere } = useSave()
const draft = reactive({ name: '', address: '' })

const { data, error, isFetching, refetch } = useQuery(search)
const refusal = computed(() => (error.value ? problemsIn(error.value).map(wordsFor).join(' ') : ''))

type Found = NonNullable<typeof data.value>[number]
function choose(one: Found) {
  draft.address = one.address
  draft.name = one.name
}
const stateOf = (one: Found) =>
  one.known_as
    ? t('places.isKnown', { name: one.known_as })
    : t(one.is_claimed ? 'places.isAnothers' : 'places.isNew')

async function takeIn() {
  const saved = await act(() => unwrap(client.POST('/api/controllers/new/', { body: draft })))
  if (saved) emit('done', saved.id)
}
</script>

<template>
  <div class="editor">
    <div class="row">
      <h2>{{ t('places.search') }}</h2>
      <Button
        size="small"
        severity="secondary"
        :label="t('places.searchAgain')"
        :loading="isFetching"
        @click="refetch()"
      />
    </div>
    <p v-if="refusal" class="denied" role="alert">{{ refusal }}</p>
    <p v-else-if="data && !data.length" class="quiet">{{ t('places.nothingFound') }}</p>
    <ul v-else>
      <li v-for="one in data" :key="one.address">
        <button
          type="button"
          class="found"
          :disabled="!!one.known_as || one.is_claimed"
          :class="{ here: one.address === draft.address }"
          @click="choose(one)"
        >
          <b>{{ one.name }}</b>
          <span class="mono quiet">{{ one.address }}</span>
          <span class="quiet">{{ one.plugs.length ? t('places.plugs', one.plugs.length) : '' }}</span>
          <StateMark
            :shape="one.known_as ? 'disc' : one.is_claimed ? 'cross' : 'ring'"
            :word="stateOf(one)"
          />
        </button>
      </li>
    </ul>
    <form class="take" @submit.prevent="takeIn">
      <h3>{{ t('places.takeIn') }}</h3>
      <TextField v-model="draft.name" :label="t('places.name')" :problems="at('name')" />
      <TextField
        v-model="draft.address"
        is-mono
        :label="t('places.address')"
        :hint="t('places.addressHint')"
        :problems="at('address')"
      />
      <p class="quiet">{{ t('places.takeInHint') }}</p>
      <div class="row">
        <Button type="submit" size="small" :label="t('places.takeIn')" :loading="isBusy" />
        <span class="denied" role="alert">{{ elsewhere }}</span>
      </div>
    </form>
  </div>
</template>

<style scoped>
.found {
  display: grid;
  grid-template-columns: 1fr 1fr 70px 1.2fr;
  gap: 8px;
  align-items: baseline;
  width: 100%;
  padding: 6px 4px;
  border: 0;
  border-top: 1px solid var(--p-cadrin-hairline);
  background: none;
  color: inherit;
  text-align: left;
}
.found:not(:disabled) {
  cursor: pointer;
}
.found:not(:disabled):hover,
.here {
  background: var(--p-cadrin-teal-paper);
}
.take {
  display: flex;
  flex-direction: column;
  gap: 8px;
  margin-top: 10px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>

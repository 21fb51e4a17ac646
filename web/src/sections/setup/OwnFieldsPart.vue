<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ArrowDown, ArrowUp } from '@lucide/vue'
import Button from 'primevue/button'
import { useConfirm } from 'primevue/useconfirm'
import { computed } from 'vue'

import { chosenInAddress } from '@/kit/state/addressed'
import { client, unwrap } from '@/api/client'
import { useSave } from '@/kit/state/save'
import { labelOf } from '@/kit/said/labels'
import { t } from '@/words'

import OwnFieldEditor from './OwnFieldEditor.vue'
import { ownFields } from './queries'

defineProps<{ mayChange: boolean }>()
const { data, isError } = useQuery(ownFields)
const { act, isBusy, elsewhere } = useSave()
const confirm = useConfirm()

const live = computed(() => data.value?.filter((one) => !one.removed_at) ?? [])
const removed = computed(() => data.value?.filter((one) => one.removed_at) ?? [])
const chosen = chosenInAddress()
const field = computed(() => live.value.find((one) => one.id === chosen.value))

function remove(id: number, name: string, count: number) {
  confirm.require({
    header: t('setup.removeField', { name }),
    message: t('setup.removeFieldHint', { count }),
    acceptLabel: t('setup.remove'),
    rejectLabel: t('common.cancel'),
    acceptProps: { severity: 'danger', size: 'small' },
    rejectProps: { severity: 'secondary', size: 'small', variant: 'text' },
    accept: () =>
      void act(() => unwrap(client.DELETE('/api/own-fields/{id}/', { params: { path: { id } } }))),
  })
}
const takeBack = (id: number) =>
  act(() => unwrap(client.POST('/api/own-fields/{id}/back/', { params: { path: { id } } })))
function move(place: number, by: number) {
  const ids = live.value.map((one) => one.id)
  ids.splice(place + by, 0, ...ids.splice(place, 1))
  void act(() => unwrap(client.PUT('/api/own-fields/order/', { body: { ids } })))
}
</script>

<template>
  <div class="both stacks-late">
    <section>
      <div class="row">
        <h2>{{ t('setup.parts.own-fields') }}</h2>
        <Button
          v-if="mayChange"
          size="small"
          severity="secondary"
          class="push"
          :label="t('setup.newField')"
          @click="chosen = 'new'"
        />
      </div>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <p class="denied">{{ elsewhere }}</p>
      <p v-if="data && !live.length" class="quiet">{{ t('setup.noFields') }}</p>
      <ul>
        <li v-for="(one, place) in live" :key="one.id" class="line" :class="{ here: one.id === chosen }">
          <button type="button" class="one" @click="chosen = one.id">
            <b class="one-line">{{ labelOf(one.labels) }}</b>
            <span class="quiet">
              {{ t(`setup.types.${one.type}`)
              }}<template v-if="one.is_required">, {{ t('setup.required') }}</template
              ><template v-if="one.is_unique">, {{ t('setup.unique') }}</template
              >, {{ t('setup.values', one.values) }}
            </span>
          </button>
          <template v-if="mayChange">
            <Button
              size="small"
              severity="secondary"
              variant="text"
              :disabled="isBusy || place === 0"
              :aria-label="t('setup.up', { name: labelOf(one.labels) })"
              @click="move(place, -1)"
            >
              <ArrowUp :size="14" aria-hidden="true" />
            </Button>
            <Button
              size="small"
              severity="secondary"
              variant="text"
              :disabled="isBusy || place === live.length - 1"
              :aria-label="t('setup.down', { name: labelOf(one.labels) })"
              @click="move(place, 1)"
            >
              <ArrowDown :size="14" aria-hidden="true" />
            </Button>
            <Button
              size="small"
              severity="danger"
              variant="text"
              :disabled="isBusy"
              :label="t('setup.remove')"
              :aria-label="`${t('setup.remove')}: ${labelOf(one.labels)}`"
              @click="remove(one.id, labelOf(one.labels) ?? '', one.values)"
            />
          </template>
        </li>
      </ul>
      <template v-if="removed.length">
        <h3>{{ t('setup.removedFields') }}</h3>
        <ul>
          <li v-for="one in removed" :key="one.id" class="line">
            <span class="one quiet">{{ labelOf(one.labels) }}, {{ t('setup.values', one.values) }}</span>
            <Button
              v-if="mayChange"
              size="small"
              severity="secondary"
              variant="text"
              :disabled="isBusy"
              :label="t('setup.takeBack')"
              :aria-label="`${t('setup.takeBack')}: ${labelOf(one.labels)}`"
              @click="takeBack(one.id)"
            />
          </li>
        </ul>
      </template>
    </section>
    <OwnFieldEditor
      v-if="field || chosen === 'new'"
      :key="`${chosen}-${field?.version}`"
      :field="field"
      :may-change="mayChange"
      @done="chosen = null"
    />
  </div>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(320px, 1fr) minmax(300px, 1fr);
  gap: 24px;
}
.line {
  display: flex;
  align-items: center;
  border-bottom: 1px solid var(--p-cadrin-hairline);
}
.one {
  flex: 1;
  min-width: 0;
  padding: 6px 8px;
  border: 0;
  background: none;
  color: inherit;
  text-align: left;
  cursor: pointer;
}
.one span {
  display: block;
  font-size: 13px;
}
.here {
  background: var(--p-cadrin-teal-paper);
}
h3 {
  margin-top: 16px;
}
</style>

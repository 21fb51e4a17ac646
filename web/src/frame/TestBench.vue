<script setup lang="ts">
import { Camera, Grip } from '@lucide/vue'
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import { type BenchController, client, Refusal, unwrap } from '@/api/client'
import { bench, house } from '@/api/queries'
import { momentWords } from '@/kit/clock'
import { useReads } from '@/kit/reads'
import { useSession } from '@/kit/session'
import { t, wordsFor } from '@/words'

import OnOff from './OnOff.vue'

/** The stand-ins: show a card to any reader; switch off, slow and empty controllers. */
const session = useSession()
const queries = useQueryClient()
const { data, isError } = useQuery(bench)
const { data: choices } = useQuery(house)
const reads = useReads()
const mail = computed(() => data.value?.mail ?? null)
const controllers = computed(() => data.value?.controllers ?? [])
const format = computed(() => choices.value?.formats[0]?.id ?? null)

const latest = reads.reads.find((read) => read.facility_code !== null)
const facilityCode = ref(String(latest?.facility_code ?? 87))
const cardNumber = ref(String(latest?.card_number ?? ''))
const typed = ref('')
const plate = ref('')
const said = ref('')

type BenchReader = (typeof controllers.value)[number]['readers'][number]
/** Whether there is anything that the reader could take notice of. */
const canPresent = (reader: BenchReader) =>
  !!cardNumber.value || (!!typed.value && reader.has_keypad) || (!!plate.value && reader.has_camera)

/** Any number far from those of the boxes; the server says at once if somebody has it after all. */
function takeNewCard() {
  cardNumber.value = String(20_000 + Math.floor(Math.random() * 40_000))
}

const show = useMutation({
  mutationFn: (reader: BenchReader) =>
    unwrap(
      client.POST('/api/bench/reads/', {
        body: {
          reader: reader.id,
          raw: '',
          format: format.value,
          facility_code: Number(facilityCode.value),
          card_number: cardNumber.value ? Number(cardNumber.value) : null,
          typed: typed.value && reader.has_keypad ? typed.value : null,
          plate: plate.value && reader.has_camera ? plate.value : null,
        },
      }),
    ),
  onSuccess: (shown, { name: reader }) => {
    if (!shown.is_on) said.value = t('bench.isOff', { reader })
    else if (shown.reason === null) said.value = t('bench.shown', { reader })
    else if (shown.reason === 'granted')
      said.value = t('bench.granted', { reader, name: shown.name, seconds: shown.open_seconds })
    else said.value = t('bench.denied', { reader, reason: t(`reasons.${shown.reason}`) })
  },
  onError: say,
})
const change = useMutation({
  mutationFn: ({ id, ...body }: { id: number; is_on?: boolean; delay_seconds?: number }) =>
    unwrap(client.PATCH('/api/bench/controllers/{id}/', { params: { path: { id } }, body })),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['bench'] }),
  onError: say,
})
const switchMail = useMutation({
  mutationFn: (is_on: boolean) => unwrap(client.PATCH('/api/bench/mail/', { body: { is_on } })),
  onSuccess: () => queries.invalidateQueries({ queryKey: ['bench'] }),
  onError: say,
})
const empty = useMutation({
  mutationFn: ({ id }: BenchController) =>
    unwrap(client.DELETE('/api/bench/controllers/{id}/store/', { params: { path: { id } } })),
  onSuccess: async (_, { name }) => {
    said.value = t('bench.emptied', { name })
    await queries.invalidateQueries({ queryKey: ['bench'] })
  },
  onError: say,
})

function say(error: Error) {
  said.value = error instanceof Refusal ? error.problems.map(wordsFor).join(' ') : t('common.failed')
}
const delays = computed(() =>
  [0, 1, 3, 8].map((seconds) => ({
    seconds,
    word: seconds ? t('bench.seconds', { count: seconds }) : t('bench.notSlow'),
  })),
)
</script>

<template>
  <section class="bench" :aria-label="t('bench.title')">
    <p v-if="isError">{{ t('bench.none') }}</p>
    <p v-else-if="!session.may('bench')">{{ t('bench.may') }}</p>
    <template v-else>
      <div class="card">
        <h2>{{ t('bench.card') }}</h2>
        <div class="row">
          <InputText
            v-model="facilityCode"
            size="small"
            class="mono code"
            inputmode="numeric"
            :aria-label="t('bench.facility')"
          />
          <InputText
            v-model="cardNumber"
            size="small"
            class="mono number"
            inputmode="numeric"
            :aria-label="t('bench.number')"
          />
          <Button size="small" severity="secondary" :label="t('bench.newCard')" @click="takeNewCard" />
        </div>
        <div class="row typed">
          <InputText
            v-model="typed"
            size="small"
            class="mono pin"
            inputmode="numeric"
            autocomplete="off"
            :placeholder="t('pins.title')"
            :aria-label="t('bench.typed')"
          />
          <InputText
            v-model="plate"
            size="small"
            class="mono plate"
            autocomplete="off"
            :placeholder="t('plates.plate')"
            :aria-label="t('bench.plate')"
          />
          <Button
            size="small"
            severity="secondary"
            :label="t('bench.noCard')"
            :disabled="!cardNumber"
            @click="cardNumber = ''"
          />
        </div>
        <p class="said" role="status">{{ said }}</p>
      </div>
      <div class="controllers">
        <section v-for="one in controllers" :key="one.id" class="controller" :class="{ off: !one.is_on }">
          <div class="row head">
            <h3>{{ one.is_desk ? t('bench.deskReaders') : one.name }}</h3>
            <span v-if="!one.is_desk" class="dim">{{ t('bench.held', one.held) }}</span>
            <span v-if="one.clock_off_seconds" class="dim">
              {{ t('bench.clockOff', { minutes: Math.round(one.clock_off_seconds / 60) }) }}
            </span>
            <span class="row push controls">
              <Select
                v-if="!one.is_desk"
                :model-value="one.delay_seconds"
                :options="delays"
                option-label="word"
                option-value="seconds"
                size="small"
                class="delay"
                :aria-label="`${t('bench.slow')}, ${one.name}`"
                @update:model-value="change.mutate({ id: one.id, delay_seconds: $event })"
              />
              <Button
                v-if="!one.is_desk"
                size="small"
                severity="secondary"
                :label="t('bench.empty')"
                :aria-label="`${t('bench.empty')}: ${one.name}`"
                @click="empty.mutate(one)"
              />
              <OnOff
                :name="one.name"
                :model-value="one.is_on"
                @update:model-value="change.mutate({ id: one.id, is_on: $event })"
              />
            </span>
          </div>
          <div class="readers">
            <button
              v-for="reader in one.readers"
              :key="reader.id"
              type="button"
              class="reader"
              :title="reader.has_keypad ? t('readersSetup.keypad') : undefined"
              :disabled="!canPresent(reader)"
              @click="show.mutate(reader)"
            >
              {{ reader.name }}
              <Grip v-if="reader.has_keypad" :size="12" aria-hidden="true" />
              <Camera v-if="reader.has_camera" :size="12" aria-hidden="true" />
            </button>
          </div>
        </section>
        <section v-if="mail" class="controller">
          <div class="row head">
            <h3>{{ t('bench.mail') }}</h3>
            <OnOff
              class="push"
              :name="t('bench.mail')"
              :model-value="mail.is_on"
              @update:model-value="switchMail.mutate($event)"
            />
          </div>
          <ul class="letters">
            <li v-if="!mail.letters.length" class="dim">{{ t('bench.noLetters') }}</li>
            <li v-for="one in mail.letters.slice(0, 3)" :key="one.at" class="one-line">
              <span class="mono dim">{{ momentWords(one.at) }}</span> {{ t('bench.letter', one) }}
            </li>
          </ul>
        </section>
      </div>
    </template>
  </section>
</template>

<style scoped>
.bench {
  display: grid;
  grid-template-columns: 300px 1fr;
  gap: 18px;
  max-height: 300px;
  padding: 12px 14px;
  border-bottom: 1px solid var(--p-cadrin-night-line);
  overflow: auto;
}
.card {
  position: sticky;
  top: 0;
}
.card h2 {
  margin-bottom: 6px;
}
.code {
  width: 60px;
}
.number {
  width: 84px;
}
.typed {
  margin-top: 6px;
}
.plate {
  width: 120px;
}
.pin {
  width: 100px;
}
.said {
  margin-top: 10px;
  min-height: 3em;
  color: var(--p-cadrin-lit);
}
.controllers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 18px;
}
.controller {
  min-width: 0;
}
.head {
  margin-bottom: 5px;
}
.dim {
  font-size: 12px;
  color: var(--p-cadrin-bar-quiet);
}
.delay {
  width: 116px;
}
.readers {
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
}
.reader {
  padding: 2px 8px;
  font-size: 13px;
  border: 1px solid var(--p-cadrin-night-line);
  border-radius: 4px;
  background: var(--p-cadrin-night);
  color: var(--p-cadrin-bar-ink);
  cursor: pointer;
}
.reader:hover:not(:disabled) {
  border-color: var(--p-cadrin-lit);
}
.reader:disabled {
  cursor: default;
  color: var(--p-cadrin-bar-quiet);
}
.letters {
  font-size: 13px;
}
.off .reader {
  border-style: dashed;
}
</style>

<script setup lang="ts">
import { useMutation, useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'

import { type BenchController as Controller, client, Refusal, unwrap } from '@/api/client'
import { bench, house } from '@/api/queries'
import { useReads } from '@/kit/state/reads'
import { useSession } from '@/kit/state/session'
import { t, wordsFor } from '@/words'

import type { components } from '@/api/schema'
import { useBenchActs } from './bench'
import BenchController from './BenchController.vue'
import BenchFace from './BenchFace.vue'
import BenchFinger from './BenchFinger.vue'
import BenchMail from './BenchMail.vue'

/** The stand-ins: show a card to any reader; switch off, slow and empty controllers. */
const session = useSession()
const { data, isError } = useQuery(bench)
const { data: choices } = useQuery(house)
const reads = useReads()
const mail = computed(() => data.value?.mail ?? null)
const controllers = computed(() => data.value?.controllers ?? [])
const boxes = computed(() => data.value?.boxes ?? null)
const takes = computed(() => {
  const readers = controllers.value.flatMap((one) => one.readers)
  return {
    fingers: readers.some((one) => one.has_finger_scanner),
    faces: readers.some((one) => one.has_face_reader),
  }
})
const format = computed(() => choices.value?.formats[0]?.id ?? null)

const latest = reads.reads.find((read) => read.facility_code !== null)
const facilityCode = ref(String(latest?.facility_code ?? 87))
const cardNumber = ref(String(latest?.card_number ?? ''))
const typed = ref('')
const plate = ref('')
const finger = ref<components['schemas']['FingerToLayRequest'] | null>(null)
const face = ref<components['schemas']['FaceToShowRequest'] | null>(null)
const said = ref('')

type BenchReader = Controller['readers'][number]
/** Whether there is anything that the reader could take notice of. */
const canPresent = (reader: BenchReader) =>
  !!cardNumber.value ||
  (!!typed.value && reader.has_keypad) ||
  (!!plate.value && reader.has_camera) ||
  (!!finger.value && reader.has_finger_scanner) ||
  (!!face.value && reader.has_face_reader)

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
          finger: reader.has_finger_scanner ? finger.value : null,
          face: reader.has_face_reader ? face.value : null,
        },
      }),
    ),
  onSuccess: (shown, { name: reader }) => {
    if (!shown.is_on) said.value = t('bench.isOff', { reader })
    else if (shown.reason === null)
      said.value = t(finger.value && !cardNumber.value ? 'bench.pressed' : 'bench.shown', { reader })
    else if (shown.reason === 'granted')
      said.value = t('bench.granted', { reader, name: shown.name, seconds: shown.open_seconds })
    else said.value = t('bench.denied', { reader, reason: t(`reasons.${shown.reason}`) })
  },
  onError: say,
})
const { change, moveDoor, switchMail, putStrangers, unbox, empty } = useBenchActs(
  (words) => (said.value = words),
  say,
)

function say(error: Error) {
  said.value = error instanceof Refusal ? error.problems.map(wordsFor).join(' ') : t('common.failed')
}
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
        <BenchFinger v-if="takes.fingers" v-model="finger" />
        <BenchFace v-if="takes.faces" v-model="face" />
        <p class="said" role="status">{{ said }}</p>
      </div>
      <div class="controllers">
        <BenchController
          v-for="one in controllers"
          :key="one.id"
          :controller="one"
          :can-present="canPresent"
          @change="change.mutate({ id: one.id, ...$event })"
          @empty="empty.mutate(one)"
          @strangers="putStrangers.mutate(one)"
          @present="show.mutate"
          @move="(door, move) => moveDoor.mutate({ door, move })"
        />
        <BenchMail v-if="mail" :mail="mail" @switch="switchMail.mutate" />
        <p v-if="boxes" class="boxes">
          <Button size="small" severity="secondary" :label="t('bench.unbox')" @click="unbox.mutate()" />
          <span v-if="boxes.length">{{ t('bench.waiting', { numbers: boxes.join(', ') }) }}</span>
        </p>
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
.boxes {
  display: flex;
  align-items: center;
  gap: 10px;
  font-size: 13px;
}
.controllers {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 18px;
}
</style>

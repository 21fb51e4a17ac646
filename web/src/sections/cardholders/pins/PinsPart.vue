<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'

import type { House, Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { useReads } from '@/kit/state/reads'
import StateMark from '@/kit/controls/StateMark.vue'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import KeypadWait from './KeypadWait.vue'
import { newPin, type Origin, originOf, type PinDraft } from './pin'

/** The PINs of a cardholder: made up, typed twice, or chosen by themselves. What is set is never shown. */
const props = defineProps<{
  readers: House['readers']
  length: number
  canMail: boolean
  email: string
  problems: Problem[]
}>()
const pins = defineModel<PinDraft[]>({ required: true })

const reads = useReads()
/** A desk's keypad: the one of the desk reader in use, or else any. */
const keypad = computed(() => {
  const keypads = props.readers.filter((one) => one.is_desk && one.has_keypad)
  return keypads.find((one) => one.id === reads.deskReader?.id) ?? keypads[0]
})
/** At whose keypad entry one waits: a place in the list, or `-1` for one more PIN. */
const waiting = ref<number | null>(null)
/** Those that are about to be typed, although nothing stands in their fields yet. */
const typing = ref(new Set<number>())
const isOpen = ref(false)

const at = (place: number, field: string) => props.problems.filter((one) => one.field === `${place}.${field}`)
const origin = (pin: PinDraft, place: number): Origin => (typing.value.has(place) ? 'typed' : originOf(pin))
const state = { kept: 'disc', generated: 'half', typed: 'ring', keypad: 'half' } as const

function begin(place: number, how: Exclude<Origin, 'kept'>) {
  if (how === 'keypad') {
    waiting.value = place
    return
  }
  const made = { is_generated: how === 'generated', entry: '', again: '', typed: null }
  const now = place < 0 ? pins.value.length : place
  if (place < 0) pins.value.push(newPin(made))
  else Object.assign(pins.value[place]!, made)
  if (how === 'typed') typing.value.add(now)
  else typing.value.delete(now)
  isOpen.value = false
}
function chosenAtKeypad(token: string) {
  const made = { typed: token, is_generated: false, entry: '', again: '' }
  const place = waiting.value ?? -1
  if (place < 0) pins.value.push(newPin(made))
  else Object.assign(pins.value[place]!, made)
  waiting.value = null
  isOpen.value = false
}
function remove(place: number) {
  pins.value.splice(place, 1)
  typing.value = new Set()
}
</script>

<template>
  <section id="pins" class="part" aria-labelledby="pins-head">
    <div class="row head">
      <h2 id="pins-head">{{ t('pins.title') }}</h2>
      <span class="quiet">{{ t('pins.digits', { count: length }) }}</span>
      <Button
        v-if="pins.length && !isOpen"
        class="push"
        size="small"
        severity="secondary"
        variant="text"
        :label="t('pins.another')"
        @click="isOpen = true"
      />
    </div>
    <ul>
      <li v-for="(pin, place) in pins" :key="place" class="pin">
        <div class="row">
          <StateMark :shape="state[origin(pin, place)]" :word="t(`pins.origins.${origin(pin, place)}`)" />
          <span class="row push">
            <template v-if="origin(pin, place) === 'kept'">
              <Button
                size="small"
                severity="secondary"
                :label="t('pins.replaceMadeUp')"
                @click="begin(place, 'generated')"
              />
              <Button
                size="small"
                severity="secondary"
                variant="text"
                :label="t('pins.replaceTyped')"
                @click="begin(place, 'typed')"
              />
              <Button
                v-if="keypad"
                size="small"
                severity="secondary"
                variant="text"
                :label="t('pins.atKeypad')"
                @click="begin(place, 'keypad')"
              />
            </template>
            <Button
              size="small"
              severity="secondary"
              variant="text"
              :label="t('pins.remove')"
              @click="remove(place)"
            />
          </span>
        </div>
        <div class="fields">
          <template v-if="origin(pin, place) === 'typed'">
            <TextField
              v-model="pin.entry"
              class="digits"
              type="password"
              autocomplete="new-password"
              :label="t('pins.entry')"
              :problems="at(place, 'entry')"
            />
            <TextField
              v-model="pin.again"
              class="digits"
              type="password"
              autocomplete="new-password"
              :label="t('pins.again')"
              :problems="pin.again ? at(place, 'again') : []"
            />
          </template>
          <TextField
            v-if="pins.length > 1 || pin.label"
            v-model="pin.label"
            class="label"
            :label="t('cardTerms.label')"
            :problems="at(place, 'label')"
          />
          <label class="row check" :for="`pin-alone-${place}`">
            <Checkbox v-model="pin.opens_alone" binary :input-id="`pin-alone-${place}`" />
            {{ t('pins.alone') }}
          </label>
          <label
            v-if="origin(pin, place) !== 'kept' && email && canMail"
            class="row check"
            :for="`pin-mail-${place}`"
          >
            <Checkbox v-model="pin.is_mailed" binary :input-id="`pin-mail-${place}`" />
            {{ t('pins.mail') }}
          </label>
        </div>
        <FieldProblem
          v-if="origin(pin, place) !== 'typed'"
          :id="`pin-problem-${place}`"
          :problems="[...at(place, 'entry'), ...at(place, 'again'), ...at(place, 'is_mailed')]"
        />
      </li>
    </ul>
    <KeypadWait
      v-if="waiting !== null && keypad"
      :reader="keypad"
      @chosen="chosenAtKeypad"
      @cancel="waiting = null"
    />
    <div v-else-if="!pins.length || isOpen" class="row">
      <Button data-first size="small" :label="t('pins.makeUp')" @click="begin(-1, 'generated')" />
      <Button size="small" severity="secondary" :label="t('pins.type')" @click="begin(-1, 'typed')" />
      <Button
        v-if="keypad"
        size="small"
        severity="secondary"
        :label="t('pins.atKeypad')"
        @click="begin(-1, 'keypad')"
      />
    </div>
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.head {
  margin-bottom: 6px;
}
.pin {
  padding: 6px 0;
}
.pin .row {
  flex-wrap: wrap;
  white-space: nowrap;
}
.pin + .pin {
  border-top: 1px dashed var(--p-cadrin-hairline);
}
.fields {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 6px 14px;
}
.digits {
  width: 110px;
}
.label {
  width: 150px;
}
.check {
  min-height: 30px;
}
.fields:has(.digits, .label) .check {
  margin-top: 16px;
}
</style>

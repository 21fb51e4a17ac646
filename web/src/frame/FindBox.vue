<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { type CardholderRow, client, unwrap } from '@/api/client'
import { shapeOfState } from '@/kit/controls/marks'
import StateMark from '@/kit/controls/StateMark.vue'
import { t } from '@/words'

const router = useRouter()
const typed = ref<string | CardholderRow>('')
const found = shallowRef<CardholderRow[]>([])
let latest = 0
/** The answer to what stands there has not come; whether Enter was pressed meanwhile. */
let isAwaited = false
let isEntered = false

async function find(text: string) {
  const mine = ++latest
  const rows = await unwrap(client.GET('/api/cardholders/find/', { params: { query: { text } } })).catch(
    () => [],
  )
  if (mine !== latest) return
  found.value = rows
  isAwaited = false
  const [first] = rows
  if (isEntered && first) open(first)
}
function typing() {
  isAwaited = true
  isEntered = false
}
/** Whoever types faster than the answer comes is taken to the first that is found, and to nobody found before. */
function enter(event: Event) {
  if (!isAwaited) return
  event.stopPropagation()
  event.preventDefault()
  isEntered = true
}

function open(row: CardholderRow) {
  typed.value = ''
  isAwaited = isEntered = false
  document.getElementById('find')?.blur()
  void router.push({ name: 'cardholder', params: { id: row.id } })
}
</script>

<template>
  <AutoComplete
    v-model="typed"
    input-id="find"
    option-label="display_name"
    :suggestions="found"
    :placeholder="t('frame.findHint')"
    :empty-search-message="t('frame.nobodyFound')"
    :delay="80"
    :aria-label="t('frame.find')"
    auto-option-focus
    fluid
    size="small"
    @complete="find($event.query)"
    @option-select="open($event.value)"
    @clear="isAwaited = isEntered = false"
    @input.capture="typing"
    @keydown.enter.capture="enter"
  >
    <template #option="{ option }: { option: CardholderRow }">
      <span class="option">
        <StateMark :shape="shapeOfState[option.state]" :word="t(`states.${option.state}`)" is-word-hidden />
        <span class="one-line name">{{ option.display_name }}</span>
        <span class="mono quiet">{{ option.number }}</span>
        <span class="quiet one-line dept">{{ option.department_name }}</span>
      </span>
    </template>
  </AutoComplete>
</template>

<style scoped>
.option {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
}
.name {
  max-width: 170px;
}
.dept {
  margin-left: auto;
  max-width: 120px;
}
</style>

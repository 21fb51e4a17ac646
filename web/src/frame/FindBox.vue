<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref } from 'vue'
import { useRouter } from 'vue-router'

import { type CardholderRow, client, unwrap } from '@/api/client'
import { shapeOfState } from '@/kit/controls/marks'
import StateMark from '@/kit/controls/StateMark.vue'
import { useFinding } from '@/kit/state/finding'
import { t } from '@/words'

const router = useRouter()
const typed = ref<string | CardholderRow>('')
const { found, box, rest } = useFinding(
  (text) => unwrap(client.GET('/api/cardholders/find/', { params: { query: { text } } })),
  open,
)

function open(row: CardholderRow) {
  typed.value = ''
  rest()
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
    v-bind="box"
    @option-select="open($event.value)"
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

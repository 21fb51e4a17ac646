<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import AutoComplete from 'primevue/autocomplete'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import type { CardholderRow } from '@/api/client'
import { find } from '@/api/queries'
import { shapeOfState } from '@/kit/marks'
import StateMark from '@/kit/StateMark.vue'
import { t } from '@/words'

const router = useRouter()
const typed = ref<string | CardholderRow>('')
const asked = ref('')
const text = refDebounced(asked, 80)
const { data } = useQuery({ ...find(text), enabled: computed(() => text.value.length > 0) })
const found = computed(() => data.value ?? [])

function open(row: CardholderRow) {
  typed.value = ''
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
    :delay="0"
    :aria-label="t('frame.find')"
    auto-option-focus
    fluid
    size="small"
    @complete="asked = $event.query"
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

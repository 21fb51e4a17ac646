<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Select from 'primevue/select'
import { computed, ref } from 'vue'

import { numberInAddress } from '@/kit/state/addressed'
import { useSession } from '@/kit/state/session'
import ChoiceList from '@/kit/controls/ChoiceList.vue'
import { t } from '@/words'

import FormatEditor from './FormatEditor.vue'
import { type CardFormat, formats } from './queries'

/** The formats in use here, those that come with Cadrin, and one of them bit by bit. */
const { data, isError } = useQuery(formats)
const mayChange = useSession().may('set_up')
const chosen = numberInAddress('id')
/** A ready-made one, or one of our own, that is not in use yet. */
const begun = ref<string | null>(null)

const rows = computed(() =>
  (data.value?.formats ?? []).map((one) => ({
    id: one.id,
    name: one.name,
    about: t('cards.cardsOf', one.card_count),
  })),
)
const used = computed(() => new Set(data.value?.formats.map((one) => one.name)))
const unused = computed(() => (data.value?.ready_made ?? []).filter((one) => !used.value.has(one.name)))
const format = computed<CardFormat | undefined>(() =>
  data.value?.formats.find((one) => one.id === chosen.value),
)
const shown = computed(() => format.value ?? data.value?.ready_made.find((one) => one.name === begun.value))

function choose(id: number | null) {
  chosen.value = id
  begun.value = null
}
function begin(name: string) {
  chosen.value = null
  begun.value = name
}
</script>

<template>
  <div class="both stacks">
    <div>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <ChoiceList :rows="rows" :chosen="chosen" @choose="choose" />
      <Select
        v-if="mayChange && data"
        :model-value="begun"
        class="new"
        :options="unused"
        option-label="name"
        option-value="name"
        size="small"
        :placeholder="t('cards.newFormat')"
        :aria-label="t('cards.newFormat')"
        @update:model-value="begin"
      />
    </div>
    <FormatEditor
      v-if="shown"
      :key="`${chosen} ${begun} ${format?.version}`"
      :format="format"
      :from="shown"
      @done="choose"
    />
    <p v-else class="quiet">{{ t('cards.chooseFormat') }}</p>
  </div>
</template>

<style scoped>
.both {
  display: grid;
  grid-template-columns: minmax(220px, 280px) 1fr;
  gap: 28px;
}
.new {
  width: 100%;
  margin-top: 10px;
}
</style>

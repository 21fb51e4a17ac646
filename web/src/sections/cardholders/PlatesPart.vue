<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed } from 'vue'

import type { Problem } from '@/api/client'
import Field from '@/kit/controls/Field.vue'
import { t } from '@/words'

/** Licence plates, one field each; an empty last one is always there to type the next. */
const props = defineProps<{ problems: Problem[] }>()
const plates = defineModel<string[]>({ required: true })

const MOST = 10
const shown = computed(() => [...plates.value, ''].slice(0, MOST))
const at = (place: number) =>
  props.problems.filter((one) => one.field === `plates.${place}` || (place === 0 && one.field === 'plates'))

function set(place: number, value: string) {
  const now = [...plates.value]
  now[place] = value
  plates.value = now.filter((plate, here) => plate !== '' || here < now.length - 1)
}
</script>

<template>
  <section id="plates" class="part" aria-labelledby="plates-head">
    <h2 id="plates-head">{{ t('plates.title') }}</h2>
    <div class="fields">
      <Field
        v-for="(plate, place) in shown"
        :key="place"
        v-slot="{ id, describedBy, invalid }"
        :label="place === 0 ? t('plates.plate') : t('plates.another', { place: place + 1 })"
        :problems="at(place)"
      >
        <InputText
          :id="id"
          :model-value="plate"
          size="small"
          autocomplete="off"
          :invalid="invalid"
          :aria-describedby="describedBy"
          @update:model-value="set(place, $event ?? '')"
        />
      </Field>
    </div>
  </section>
</template>

<style scoped>
.part {
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
h2 {
  margin-bottom: 6px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(160px, 1fr));
  gap: 8px 12px;
}
</style>

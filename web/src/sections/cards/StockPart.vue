<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { ref } from 'vue'

import { useSession } from '@/kit/session'
import StateMark from '@/kit/StateMark.vue'
import { numberWords, t } from '@/words'

import BoxEditor from './BoxEditor.vue'
import { type Box, boxes } from './queries'

/** The boxes of cards that the site owns, and what became of them. */
const { data, isPending, isError } = useQuery(boxes)
const mayEnter = useSession().may('issue')
const isEntering = ref(false)

const card = (box: Box, number: number) => `${box.facility_code}-${String(number).padStart(5, '0')}`
const parts = (box: Box) =>
  (['held', 'free', 'gone', 'missing'] as const).map((part) => ({
    part,
    count: box[part],
    width: `${(100 * box[part]) / box.size}%`,
  }))
</script>

<template>
  <div>
    <div class="row head">
      <Button v-if="mayEnter" size="small" :label="t('stock.enter')" @click="isEntering = true" />
    </div>
    <BoxEditor v-if="isEntering" @done="isEntering = false" />
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <p v-else-if="isPending" class="quiet">{{ t('common.loading') }}</p>
    <p v-else-if="!data?.length" class="quiet">{{ t('stock.none') }}</p>
    <ul v-else>
      <li v-for="box in data" :key="box.id" class="box">
        <div>
          <b class="mono">{{ card(box, box.first) }}</b>
          <span v-if="box.last > box.first" class="mono"> … {{ card(box, box.last) }}</span>
          <span class="quiet about">{{
            [box.format_name, box.kept_where, box.remarks].filter(Boolean).join(', ')
          }}</span>
        </div>
        <div>
          <div class="bar" aria-hidden="true">
            <i v-for="one in parts(box)" :key="one.part" :class="one.part" :style="{ width: one.width }" />
          </div>
          <span v-for="one in parts(box).filter((part) => part.count)" :key="one.part" class="count">
            <i class="key" :class="one.part" aria-hidden="true" />
            {{ t(`stock.${one.part}`, { count: numberWords(one.count) }) }}
          </span>
        </div>
        <StateMark v-if="box.is_running_out" shape="half" :word="t('stock.few')" />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.head {
  margin-bottom: 10px;
}
.box {
  display: grid;
  grid-template-columns: minmax(250px, 360px) minmax(260px, 1fr) 120px;
  align-items: center;
  gap: 20px;
  padding: 8px 0;
  border-top: 1px solid var(--p-cadrin-hairline);
}
.about {
  display: block;
  font-size: 13px;
}
.bar {
  display: flex;
  height: 10px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 2px;
  overflow: hidden;
}
.count {
  margin-right: 16px;
  font-size: 13px;
}
.key {
  display: inline-block;
  width: 10px;
  height: 10px;
  border: 1px solid var(--p-cadrin-hairline);
}
.held {
  background: var(--p-cadrin-teal);
}
.free {
  background: var(--p-cadrin-sheet);
}
.gone {
  background: var(--p-cadrin-brick);
}
.missing {
  background: var(--p-cadrin-quiet);
}
</style>

<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import Button from 'primevue/button'
import { computed, ref } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import { useAct } from '@/kit/state/act'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { useSession } from '@/kit/state/session'
import { places as everyPlace } from '@/sections/setup/queries'
import { t } from '@/words'

import DoorActs from '../doors/DoorActs.vue'
import DoorReaders from '../doors/DoorReaders.vue'
import { doorsNow } from '../doors/doors'
import { useReadersOfDoors } from '../doors/readers'
import PlanArea from './PlanArea.vue'
import PlanDoor from './PlanDoor.vue'
import { moved, WHOLE } from './moving'
import { type AreaPlace, type DoorPlace, sendPicture, sitePlan } from './plan'

/** The plan of a site: how each door stands, where it is; its doors are put in their places here too. */
const props = defineProps<{ site: House['sites'][number]; doors: House['doors'] }>()
const queries = useQueryClient()
const maySetUp = useSession().may('set_up')
const { data: plan, isError } = useQuery(sitePlan(() => props.site.id))
const { data: stand } = useQuery(doorsNow)
const here = computed(() => props.doors.filter((one) => one.site_id === props.site.id))
const { isSilent } = useReadersOfDoors()
const standOf = (id: number) => stand.value?.find((one) => one.id === id)

const chosen = ref<number | null>(null)
const chosenDoor = computed(() => here.value.find((one) => one.id === chosen.value))
/** While doors are being placed: where they are, not saved yet. */
const draft = ref<DoorPlace[] | null>(null)
const places = computed(() => draft.value ?? plan.value?.places ?? [])
const nameOf = (id: number) => here.value.find((one) => one.id === id)?.name ?? '?'
/** Areas are drawn while doors are placed, and saved with them. */
const drawn = ref<AreaPlace[]>([])
const areas = computed(() => (draft.value ? drawn.value : (plan.value?.areas ?? [])))
const { data: everywhere } = useQuery(everyPlace)
const areasHere = computed(() => everywhere.value?.areas.filter((one) => one.site_id === props.site.id) ?? [])
const areaName = (id: number) => areasHere.value.find((one) => one.id === id)?.name ?? '?'
const undrawn = computed(() =>
  areasHere.value.filter((one) => !areas.value.some((area) => area.area_id === one.id)),
)
const NEW_AREA = { x: 375, y: 375, width: 250, height: 250 }
const draw = (id: number) => (drawn.value = [...drawn.value, { area_id: id, ...NEW_AREA }])
const redraw = (area: AreaPlace) =>
  (drawn.value = drawn.value.map((one) => (one.area_id === area.area_id ? area : one)))
const undraw = (id: number) => (drawn.value = drawn.value.filter((one) => one.area_id !== id))
function begin() {
  draft.value = [...places.value]
  drawn.value = (plan.value?.areas ?? []).map((one) => ({ ...one }))
}
const unplaced = computed(() =>
  here.value.filter((one) => !places.value.some((place) => place.door_id === one.id)),
)
/** What has no place on the plan yet. */
const missing = computed(() => [
  {
    title: t('plan.unplaced'),
    items: unplaced.value,
    told: 'plan.put' as const,
    add: (id: number) => put(id, WHOLE / 2, WHOLE / 2),
  },
  { title: t('plan.undrawn'), items: undrawn.value, told: 'plan.draw' as const, add: draw },
])

const sheet = ref<HTMLElement | null>(null)
function put(id: number, x: number, y: number) {
  const there = moved({ door_id: id, x: 0, y: 0 }, x, y)
  // each stays where it is in the list: one that is moved in the page loses the focus
  const isKnown = places.value.some((one) => one.door_id === id)
  draft.value = isKnown
    ? places.value.map((one) => (one.door_id === id ? there : one))
    : [...places.value, there]
}
function drag(id: number, event: PointerEvent) {
  const box = sheet.value?.getBoundingClientRect()
  if (!draft.value || !box) return
  put(id, ((event.clientX - box.left) / box.width) * WHOLE, ((event.clientY - box.top) / box.height) * WHOLE)
}
function step(id: number, dx: number, dy: number) {
  const place = places.value.find((one) => one.door_id === id)
  if (draft.value && place) put(id, place.x + dx, place.y + dy)
}
const takeAway = (id: number) => (draft.value = places.value.filter((one) => one.door_id !== id))

const { act, isBusy, at, elsewhere } = useAct()
const looked = () => queries.invalidateQueries({ queryKey: keyOf('plan') })
const params = computed(() => ({ path: { id: props.site.id } }))
async function save() {
  const body = { version: plan.value?.version ?? 0, places: draft.value ?? [], areas: drawn.value }
  const done = await act(
    () => unwrap(client.PUT('/api/sites/{id}/plan/', { params: params.value, body })).then(() => true),
    t('common.saved'),
  )
  if (done) draft.value = null
  await looked()
}
async function upload(event: Event) {
  const box = event.target as HTMLInputElement
  const file = box.files?.[0]
  if (file) await act(() => sendPicture(props.site.id, file), t('common.saved'))
  box.value = ''
  await looked()
}
async function removePicture() {
  await act(() => unwrap(client.DELETE('/api/sites/{id}/plan/picture/', { params: params.value })))
  await looked()
}
const picture = computed(() =>
  plan.value?.has_picture ? `/api/sites/${props.site.id}/plan/picture/?v=${plan.value.version}` : '',
)
</script>

<template>
  <div>
    <div class="row head">
      <h1>{{ site.name }}</h1>
      <template v-if="maySetUp && plan">
        <template v-if="draft">
          <Button size="small" class="push" :label="t('common.save')" :loading="isBusy" @click="save" />
          <Button
            size="small"
            severity="secondary"
            variant="text"
            :label="t('common.discard')"
            @click="draft = null"
          />
        </template>
        <template v-else>
          <Button size="small" severity="secondary" class="push" :label="t('plan.place')" @click="begin" />
          <label class="upload">
            {{ t('plan.upload') }}
            <input type="file" accept="image/*" @change="upload" />
          </label>
          <Button
            v-if="plan.has_picture"
            size="small"
            severity="secondary"
            variant="text"
            :label="t('plan.removePicture')"
            @click="removePicture"
          />
        </template>
      </template>
    </div>
    <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
    <FieldProblem id="plan-picture" :problems="at('image')" />
    <p v-if="elsewhere" class="denied" role="alert">{{ elsewhere }}</p>
    <p v-if="draft" class="quiet">{{ t('plan.hint') }}</p>
    <div v-if="plan" ref="sheet" class="sheet" :style="{ aspectRatio: `${plan.width} / ${plan.height}` }">
      <img v-if="picture" :src="picture" :alt="t('plan.of', { name: site.name })" draggable="false" />
      <PlanArea
        v-for="one in areas"
        :key="`area ${one.area_id}`"
        :area="one"
        :name="areaName(one.area_id)"
        :is-moving="draft !== null"
        @change="redraw"
        @take-away="undraw(one.area_id)"
      />
      <PlanDoor
        v-for="place in places"
        :key="place.door_id"
        :place="place"
        :name="nameOf(place.door_id)"
        :stand="standOf(place.door_id)"
        :is-silent="isSilent(place.door_id)"
        :is-moving="draft !== null"
        :is-chosen="chosen === place.door_id"
        @choose="chosen = chosen === place.door_id ? null : place.door_id"
        @drag="drag(place.door_id, $event)"
        @step="(dx, dy) => step(place.door_id, dx, dy)"
        @take-away="takeAway(place.door_id)"
      />
    </div>
    <template v-if="draft">
      <template v-for="list in missing" :key="list.title">
        <h2>{{ list.title }}</h2>
        <p v-if="!list.items.length" class="quiet">{{ t('finder.none') }}</p>
        <div class="row unplaced">
          <Button
            v-for="one in list.items"
            :key="one.id"
            size="small"
            severity="secondary"
            :label="one.name"
            :aria-label="t(list.told, { name: one.name })"
            @click="list.add(one.id)"
          />
        </div>
      </template>
    </template>
    <template v-else-if="chosenDoor">
      <h2>
        <RouterLink :to="{ name: 'access', params: { part: 'doors', id: chosenDoor.id } }">{{
          chosenDoor.name
        }}</RouterLink>
      </h2>
      <DoorActs :key="chosenDoor.id" :door-id="chosenDoor.id" />
      <DoorReaders :door-id="chosenDoor.id" />
    </template>
    <p v-else-if="plan && !places.length" class="quiet">{{ t('plan.empty') }}</p>
    <p v-else class="quiet">{{ t('plan.click') }}</p>
  </div>
</template>

<style scoped>
.sheet {
  position: relative;
  width: 100%;
  margin: 8px 0 12px;
  border: 1px solid var(--p-cadrin-hairline);
  background: var(--p-cadrin-teal-paper);
  touch-action: none;
  user-select: none;
}
.sheet img {
  width: 100%;
  height: 100%;
}
.upload {
  position: relative;
  padding: 4px 10px;
  border-radius: 4px;
  cursor: pointer;
  text-decoration: underline;
}
.upload input {
  position: absolute;
  inset: 0;
  opacity: 0;
  cursor: pointer;
}
.upload:focus-within {
  outline: 2px solid var(--p-cadrin-teal);
}
.unplaced {
  flex-wrap: wrap;
  gap: 6px;
}
h2 {
  margin: 10px 0 4px;
}
</style>
